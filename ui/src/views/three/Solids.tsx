import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { BackSide, Color, FrontSide, type InstancedMesh, Matrix4, Quaternion, Vector3 } from "three";

import { TONE } from "./tones";

/** A cylinder from one spot to another. */
export type Solid = { id: string; from: Vector3; to: Vector3; radius: number; tone: string };

const UP = new Vector3(0, 1, 0);

/** The same solids a little wider, in ink. */
export const edged = (solids: Solid[], by: number): Solid[] =>
  solids.map((solid) => ({ ...solid, radius: solid.radius + by, tone: TONE.ink }));

/** Many cylinders in one draw call; each is picked by its id. */
export function Solids({
  solids,
  opacity = 1,
  sides = 14,
  capped = true,
  pick,
  order = 0,
  inside = false,
}: {
  solids: Solid[];
  opacity?: number;
  sides?: number;
  capped?: boolean;
  pick?: (id: string) => void;
  order?: number;
  /** Only the far walls are drawn: round other solids they make an edge. */
  inside?: boolean;
}) {
  const mesh = useRef<InstancedMesh>(null);
  const invalidate = useThree((state) => state.invalidate);
  const shown = useRef(solids);
  shown.current = solids;
  const room = useMemo(() => Math.max(1, 2 ** Math.ceil(Math.log2(Math.max(solids.length, 1)))), [solids.length]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a mesh with more room is another mesh
  useEffect(() => {
    const target = mesh.current;
    if (!target) return;
    const [matrix, turn, along, scale, colour] = [
      new Matrix4(),
      new Quaternion(),
      new Vector3(),
      new Vector3(),
      new Color(),
    ];
    for (const [k, { from, to, radius, tone }] of solids.entries()) {
      along.subVectors(to, from);
      const length = Math.max(along.length(), 1e-3);
      turn.setFromUnitVectors(UP, along.divideScalar(length));
      matrix.compose(from.clone().add(to).multiplyScalar(0.5), turn, scale.set(radius, length, radius));
      target.setMatrixAt(k, matrix);
      target.setColorAt(k, colour.set(tone));
    }
    target.count = solids.length;
    target.instanceMatrix.needsUpdate = true;
    if (target.instanceColor) target.instanceColor.needsUpdate = true;
    target.computeBoundingSphere();
    invalidate();
  }, [solids, room, invalidate]);
  return (
    <instancedMesh
      key={room}
      ref={mesh}
      args={[undefined, undefined, room]}
      frustumCulled={false}
      renderOrder={order}
      onClick={
        pick &&
        ((event: ThreeEvent<MouseEvent>) => {
          const hit = shown.current[event.instanceId ?? -1];
          if (!hit || event.delta > 4) return;
          event.stopPropagation();
          pick(hit.id);
        })
      }
    >
      <cylinderGeometry args={[1, 1, 1, sides, 1, !capped]} />
      {inside ? (
        <meshBasicMaterial side={BackSide} />
      ) : (
        <meshLambertMaterial
          color="#ffffff"
          side={FrontSide}
          transparent={opacity < 1}
          opacity={opacity}
          depthWrite={opacity >= 1}
        />
      )}
    </instancedMesh>
  );
}
