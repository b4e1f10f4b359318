/** A scanned foot in three dimensions, with the tape's loops and the section planes; turned by mouse, touch and keys. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  HemisphereLight,
  Line,
  LineBasicMaterial,
  LineLoop,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  PerspectiveCamera,
  PlaneGeometry,
  Scene,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import type { Schemas, Side } from "../api/client";
import { Button } from "../ui/Button";

interface Props {
  id: string;
  version: number;
  side: Side;
  shape: Schemas["ShapeOut"];
  width: number;
  height: number;
}

const token = (name: string) =>
  new Color(getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim() || "#333");

const VIEWS: [string, [number, number, number]][] = [
  ["From above", [0.001, 0, 1]],
  ["Inner side", [0, 1, 0.12]],
  ["Outer side", [0, -1, 0.12]],
  ["From the toes", [1, 0, 0.35]],
];

function unpacked(data: ArrayBuffer, mirror: boolean): BufferGeometry {
  const count = new DataView(data).getUint32(0, true);
  const corners = new Float32Array(data.slice(4, 4 + count * 12));
  if (mirror) for (let i = 1; i < corners.length; i += 3) corners[i] = -(corners[i] ?? 0);
  const found = new BufferGeometry();
  found.setAttribute("position", new BufferAttribute(corners, 3));
  found.setIndex(new BufferAttribute(new Uint32Array(data.slice(4 + count * 12)), 1));
  found.computeVertexNormals();
  return found;
}

export default function FootTurned({ id, version, side, shape, width, height }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const look = useRef<((to: [number, number, number]) => void) | null>(null);
  const [failed, setFailed] = useState(false);
  const surface = useQuery({
    queryKey: ["surface", id, version],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => {
      const answer = await fetch(`/api/captures/${id}/surface`);
      if (!answer.ok) throw new Error("The surface can't be shown.");
      return answer.arrayBuffer();
    },
  });
  const data = surface.data;
  useEffect(() => {
    const host = box.current;
    if (!host || !data) return;
    let renderer: WebGLRenderer;
    try {
      renderer = new WebGLRenderer({ antialias: true, alpha: true });
    } catch {
      setFailed(true);
      return;
    }
    const mirror = side === "left";
    const flip = mirror ? -1 : 1;
    const scene = new Scene();
    const foot = new Mesh(
      unpacked(data, mirror),
      new MeshLambertMaterial({ color: token(side).lerp(new Color("#ffffff"), 0.55), side: DoubleSide }),
    );
    scene.add(foot, new HemisphereLight(0xffffff, 0x998877, 2.2));
    const sun = new DirectionalLight(0xffffff, 1.6);
    sun.position.set(-200, 250, 600);
    scene.add(sun);
    const tape = new LineBasicMaterial({ color: token("madder") });
    const thin = new LineBasicMaterial({ color: token("faint") });
    for (const [name, loop] of Object.entries(shape.loops)) {
      const points = loop.points.map(([x = 0, y = 0, z = 0]) => new Vector3(x, flip * y, z));
      const main = !name.endsWith("%");
      scene.add(new LineLoop(new BufferGeometry().setFromPoints(points), main ? tape : thin));
      if (main && points.length > 2) scene.add(plane(points));
    }
    const axis = [new Vector3(0, 0, 0.2), new Vector3(shape.profile.at(-1)?.[0] ?? 260, 0, 0.2)];
    scene.add(
      new Line(new BufferGeometry().setFromPoints(axis), new LineBasicMaterial({ color: token("ink") })),
    );
    const camera = new PerspectiveCamera(32, width / height, 10, 4000);
    camera.up.set(0, 0, 1);
    const target = new Vector3(130, 0, 35);
    const controls = new OrbitControls(camera, renderer.domElement);
    controls.enablePan = false;
    controls.minDistance = 200;
    controls.maxDistance = 1500;
    const draw = () => renderer.render(scene, camera);
    const from = (to: [number, number, number]) => {
      camera.position
        .copy(target)
        .add(new Vector3(to[0], flip * to[1], to[2]).normalize().multiplyScalar(500));
      controls.target.copy(target);
      controls.update();
      draw();
    };
    look.current = from;
    controls.addEventListener("change", draw);
    renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    renderer.setSize(width, height);
    renderer.domElement.setAttribute("aria-hidden", "true");
    host.appendChild(renderer.domElement);
    from([0.75, 0.8, 0.65]);
    host.dataset.drawn = "yes";
    const turn = (event: KeyboardEvent) => {
      const offset = camera.position.clone().sub(controls.target);
      const step = Math.PI / 24;
      const side_ = new Vector3().crossVectors(offset, camera.up).normalize();
      if (event.key === "ArrowLeft") offset.applyAxisAngle(camera.up, -step);
      else if (event.key === "ArrowRight") offset.applyAxisAngle(camera.up, step);
      else if (event.key === "ArrowUp") offset.applyAxisAngle(side_, step);
      else if (event.key === "ArrowDown") offset.applyAxisAngle(side_, -step);
      else if (event.key === "+" || event.key === "=") offset.multiplyScalar(0.9);
      else if (event.key === "-") offset.multiplyScalar(1.1);
      else return;
      event.preventDefault();
      if (Math.abs(offset.clone().normalize().z) < 0.995) camera.position.copy(controls.target).add(offset);
      controls.update();
      draw();
      host.dataset.turned = String(Number(host.dataset.turned ?? "0") + 1);
    };
    host.addEventListener("keydown", turn);
    return () => {
      host.removeEventListener("keydown", turn);
      look.current = null;
      controls.dispose();
      foot.geometry.dispose();
      renderer.dispose();
      renderer.domElement.remove();
    };
  }, [data, side, shape, width, height]);

  if (surface.error || failed) {
    return (
      <p className="p-6" role="alert">
        {failed
          ? "This device can't draw in three dimensions. Plan and side views show the same measures."
          : surface.error?.message}
      </p>
    );
  }
  return (
    <div style={{ width, height }} className="relative">
      <div
        ref={box}
        role="application"
        tabIndex={0}
        aria-label={`The ${side} foot in three dimensions. Arrow keys turn it, plus and minus come nearer and further.`}
        data-drawing="foot-turned"
        className="h-full w-full touch-none"
      />
      {!data && <p className="absolute top-2 left-2 text-faint">Drawing the scan …</p>}
      <div className="absolute bottom-1 left-1 flex flex-wrap gap-1">
        {VIEWS.map(([name, to]) => (
          <Button key={name} className="!px-2 text-sm" onClick={() => look.current?.(to)}>
            {name}
          </Button>
        ))}
      </div>
      <ul className="absolute top-1 right-1 bg-sheet/85 p-2 font-mono text-xs">
        {Object.entries(shape.loops)
          .filter(([name]) => !name.endsWith("%") && name !== "heel")
          .map(([name, loop]) => (
            <li key={name} className="text-madder">
              {name} {loop.girth_mm.toFixed(1)} mm
            </li>
          ))}
      </ul>
    </div>
  );
}

/** The plane a loop lies in, as a faint sheet. */
function plane(points: Vector3[]): Mesh {
  const middle = points.reduce((sum, p) => sum.add(p), new Vector3()).divideScalar(points.length);
  const a = points[0] ?? middle;
  const b = points[Math.floor(points.length / 3)] ?? middle;
  const normal = new Vector3().crossVectors(a.clone().sub(middle), b.clone().sub(middle)).normalize();
  const sheet = new Mesh(
    new PlaneGeometry(150, 110),
    new MeshBasicMaterial({
      color: token("madder"),
      transparent: true,
      opacity: 0.08,
      side: DoubleSide,
      depthWrite: false,
    }),
  );
  sheet.up.set(0, 0, 1);
  sheet.position.copy(middle);
  sheet.lookAt(middle.clone().add(normal));
  return sheet;
}
