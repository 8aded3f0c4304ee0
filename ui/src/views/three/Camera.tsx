import { useThree } from "@react-three/fiber";
import { type Ref, useEffect, useImperativeHandle, useMemo, useRef } from "react";
import { type PerspectiveCamera, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { useProject } from "../../document/store";
import type { Scene, Spot } from "./place";
import type { Shot } from "./portrait";

/** From where the scene is seen: degrees clockwise from north, degrees above the horizon. */
export type View = { from: number; tilt: number };
export type Handle = {
  home: () => void;
  stand: (spot: Spot) => void;
  turn: (view: View) => void;
  nearer: (by: number) => void;
  shot: Shot;
};

export const FIRST: View = { from: 193, tilt: 34 };
const rad = (degrees: number) => (degrees * Math.PI) / 180;

/** Offset of the eye from what it looks at. */
export function offsetOf({ from, tilt }: View, distance: number): Spot {
  const flat = distance * Math.cos(rad(tilt));
  return [flat * Math.sin(rad(from)), flat * Math.cos(rad(from)), distance * Math.sin(rad(tilt))];
}

/** Where an arrow key turns the sight to; null for other keys. */
export function turned(view: View, key: string): View | null {
  if (key === "ArrowLeft" || key === "ArrowRight")
    return { ...view, from: (view.from + (key === "ArrowLeft" ? 10 : 350)) % 360 };
  if (key === "ArrowUp") return { ...view, tilt: Math.min(view.tilt + 5, 89) };
  return key === "ArrowDown" ? { ...view, tilt: Math.max(view.tilt - 5, -15) } : null;
}

/** The eye: drag turns, the wheel comes nearer, the right button moves along. */
export function Camera({
  scene,
  seen,
  names,
  handle,
}: {
  scene: Scene;
  seen: (view: View) => void;
  /** Called whenever the sight has moved, with what projects a spot onto the canvas. */
  names: (project: (spot: Spot) => [number, number] | null) => void;
  handle: Ref<Handle>;
}) {
  const { camera, gl, scene: drawn, invalidate, size } = useThree();
  const { span, top, base, upward } = scene;
  const controls = useMemo(() => {
    camera.up.set(0, 0, 1);
    const orbit = new OrbitControls(camera, gl.domElement);
    orbit.maxPolarAngle = Math.PI * 0.62;
    return orbit;
  }, [camera, gl]);
  const middle = useMemo(() => new Vector3(0, 0, ((top - base) * upward) / 2), [top, base, upward]);
  const look = (target: Vector3, view: View, distance: number) => {
    controls.target.copy(target);
    camera.position.copy(target).add(new Vector3(...offsetOf(view, distance)));
    controls.update();
    invalidate();
  };
  const now = (): View => {
    const off = camera.position.clone().sub(controls.target);
    const from = ((Math.atan2(off.x, off.y) * 180) / Math.PI + 360) % 360;
    return { from, tilt: (Math.asin(off.z / Math.max(off.length(), 1e-9)) * 180) / Math.PI };
  };
  const away = () => camera.position.distanceTo(controls.target);
  const whole = span * Math.max(1.35, (1.05 * size.height) / Math.max(size.width, 1));
  useImperativeHandle(handle, () => ({
    home: () => look(middle, FIRST, whole),
    stand: (spot) => look(new Vector3(...spot), now(), Math.min(away(), span * 0.35)),
    turn: (view) => look(controls.target.clone(), view, away()),
    nearer: (by) => look(controls.target.clone(), now(), away() * by),
    shot: (wide) => {
      const canvas = document.createElement("canvas");
      const usual = gl.getPixelRatio();
      gl.setPixelRatio(wide / size.width);
      gl.render(drawn, camera);
      [canvas.width, canvas.height] = [gl.domElement.width, gl.domElement.height];
      canvas.getContext("2d")?.drawImage(gl.domElement, 0, 0);
      gl.setPixelRatio(usual);
      gl.render(drawn, camera);
      return canvas;
    },
  }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the first sight, and one anew where the scene is another
  useEffect(() => {
    const lens = camera as PerspectiveCamera;
    lens.near = span / 500;
    lens.far = span * 20;
    lens.updateProjectionMatrix();
    look(middle, FIRST, whole);
  }, [span, middle]);
  const { wanted } = useProject();
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it is asked for at the scale that is drawn
  useEffect(() => {
    const kept = wanted.eye;
    if (!kept || kept.upward !== upward) return;
    const { x, y, level, bearing, tilt, distance } = kept;
    look(new Vector3(...scene.at(x, y, level)), { from: bearing, tilt }, distance);
    useProject.setState({ wanted: { ...useProject.getState().wanted, eye: null } });
  }, [wanted.eye, upward]);
  const tell = useRef(() => {});
  tell.current = () => {
    const point = new Vector3();
    camera.updateMatrixWorld(); // else it still stands where it was last drawn from
    invalidate();
    seen(now());
    const { x, y, z } = controls.target;
    useProject.setState({
      eye: {
        x: x + scene.middle[0],
        y: y + scene.middle[1],
        level: z / upward + base,
        bearing: now().from,
        tilt: now().tilt,
        distance: away(),
        upward,
      },
    });
    names((spot) => {
      point.set(...spot).project(camera);
      if (Math.abs(point.z) > 1) return null;
      return [((point.x + 1) / 2) * size.width, ((1 - point.y) / 2) * size.height];
    });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: another size or scale moves every name
  useEffect(() => tell.current(), [size, scene]);
  useEffect(() => {
    const moved = () => tell.current();
    controls.addEventListener("change", moved);
    return () => controls.removeEventListener("change", moved);
  }, [controls]);
  useEffect(() => () => controls.dispose(), [controls]);
  return null;
}
