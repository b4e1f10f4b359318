/** A file on its way to the server, with the share sent so far. */
import { away, troubleOf } from "./client";

const LONGEST_MS = 300_000;

/** Send a file as the body; answers as `ask` does. `undone` says what was not done when nothing answers. */
export function send<T>(
  url: string,
  file: Blob,
  undone: string,
  tell: (share: number) => void = () => {},
): Promise<T> {
  return new Promise((done, fail) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.setRequestHeader("content-type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (e) => e.lengthComputable && tell(e.loaded / e.total);
    request.timeout = LONGEST_MS;
    request.onload = () => {
      if (request.status < 300) done(request.response as T);
      else fail(troubleOf(request.status, request.response, request.getResponseHeader("retry-after")));
    };
    request.onerror = () =>
      fail(away(`No connection: the file was not ${undone}. Try again when it is back.`));
    request.ontimeout = () => fail(away(`The file took too long and was not ${undone}. Try again.`));
    request.send(file);
  });
}
