/** A bar code read by the tablet's camera; the reader is loaded when it is opened, the camera let go when it is shut. */
import { BrowserMultiFormatOneDReader } from "@zxing/browser";
import { BarcodeFormat, DecodeHintType } from "@zxing/library";
import { useEffect, useRef, useState } from "react";
import { Dialog } from "../../ui/Dialog";
import { Note } from "../../ui/words";

/** What is printed on boxes: EAN and UPC, and the outer carton's fourteen digits. */
const HINTS = new Map([
  [
    DecodeHintType.POSSIBLE_FORMATS,
    [BarcodeFormat.EAN_13, BarcodeFormat.EAN_8, BarcodeFormat.UPC_A, BarcodeFormat.ITF],
  ],
]);
/** A carton's code has no check of its own parity: fewer digits than these are a part of one. */
const WHOLE = /^(\d{8}|\d{12,14})$/;

const why = (error: unknown): string => {
  const name = error instanceof Error ? error.name : "";
  if (name === "NotAllowedError")
    return "The browser keeps the camera from this page. Allow it beside the address, then open this again; or type the digits.";
  if (name === "NotFoundError")
    return "There is no camera on this machine. Type the digits, or use a reader.";
  if (name === "NotReadableError") return "Something else is using the camera. Close it and open this again.";
  return "The camera can't be used here. Type the digits, or use a reader.";
};

interface ScanProps {
  onCode: (digits: string) => void;
  onClose: () => void;
}

export function Scan({ onCode, onClose }: ScanProps) {
  const video = useRef<HTMLVideoElement>(null);
  const [trouble, setTrouble] = useState("");
  const [seeing, setSeeing] = useState(false);
  const found = useRef(onCode);
  found.current = onCode;
  useEffect(() => {
    if (!navigator.mediaDevices) {
      setTrouble(
        "A camera needs a secure address (https, or this very machine). Type the digits, or use a reader.",
      );
      return;
    }
    let over = false;
    let stop = () => {};
    new BrowserMultiFormatOneDReader(HINTS)
      .decodeFromConstraints(
        { video: { facingMode: "environment", width: { ideal: 1280 }, height: { ideal: 720 } } },
        video.current ?? undefined,
        (result, _, controls) => {
          const digits = result?.getText() ?? "";
          if (over || !WHOLE.test(digits)) return;
          over = true;
          controls.stop();
          found.current(digits);
        },
      )
      .then((controls) => {
        if (over) controls.stop();
        else stop = () => controls.stop();
        setSeeing(true);
      })
      .catch((error) => !over && setTrouble(why(error)));
    return () => {
      over = true;
      stop();
    };
  }, []);
  return (
    <Dialog open onClose={onClose} title="Read a bar code">
      {trouble ? (
        <Note title="No picture">{trouble}</Note>
      ) : (
        <p className="mb-2" role="status">
          {seeing
            ? "Hold the code level across the line, a hand's breadth away."
            : "Waiting for the camera …"}
        </p>
      )}
      <div className={`relative aspect-video bg-ink ${trouble ? "hidden" : ""}`}>
        <video ref={video} muted playsInline className="size-full object-contain" />
        <span aria-hidden="true" className="absolute inset-x-6 top-1/2 border-madder border-t-2" />
      </div>
    </Dialog>
  );
}
