import { memo, useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import type { Backdrop } from "../../document/types";
import { groundAt, type Scene, type Surface } from "./place";
import { TONE } from "./tones";

export type GroundLook = "solid" | "glass" | "off";

/** The ground as a sheet of meshes, with what is drawn under the plan lying on it. */
export const Ground = memo(function Ground({
  surface,
  scene,
  look,
  backdrop,
}: {
  surface: Surface;
  scene: Scene;
  look: GroundLook;
  backdrop: Backdrop[];
}) {
  const [sheet, lines, drawn] = useMemo(() => {
    const rows = surface.levels.length;
    const columns = surface.levels[0]?.length ?? 0;
    const points: number[] = [];
    const known = (i: number, j: number) => surface.levels[i]?.[j] != null;
    for (let i = 0; i < rows; i++)
      for (let j = 0; j < columns; j++)
        points.push(
          ...scene.at(
            surface.west + j * surface.cell,
            surface.south + i * surface.cell,
            surface.levels[i]?.[j] ?? scene.base,
          ),
        );
    const at = (i: number, j: number) => i * columns + j;
    const [faces, edges]: [number[], number[]] = [[], []];
    for (let i = 0; i < rows; i++)
      for (let j = 0; j < columns; j++) {
        if (!known(i, j)) continue;
        // meshes are computed finely and drawn four by four
        if (j + 1 < columns && known(i, j + 1) && i % 4 === 0) edges.push(at(i, j), at(i, j + 1));
        if (i + 1 < rows && known(i + 1, j) && j % 4 === 0) edges.push(at(i, j), at(i + 1, j));
        if (i + 1 < rows && j + 1 < columns && known(i + 1, j) && known(i, j + 1) && known(i + 1, j + 1))
          faces.push(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j));
      }
    const position = new BufferAttribute(new Float32Array(points), 3);
    const make = (index: number[]) => {
      const geometry = new BufferGeometry();
      geometry.setAttribute("position", position);
      geometry.setIndex(index);
      return geometry;
    };
    const solid = make(faces);
    solid.computeVertexNormals();
    const lying: number[] = [];
    for (const item of backdrop) {
      const ring = item.kind === "path" ? item.points : [...item.points, item.points[0] ?? [0, 0]];
      for (const [k, [x, y]] of ring.slice(1).entries()) {
        const [x0, y0] = ring[k] ?? [x, y];
        const [z0, z1] = [groundAt(surface, x0, y0), groundAt(surface, x, y)];
        if (Number.isFinite(z0 + z1)) lying.push(...scene.at(x0, y0, z0), ...scene.at(x, y, z1));
      }
    }
    const over = new BufferGeometry();
    over.setAttribute("position", new BufferAttribute(new Float32Array(lying), 3));
    return [solid, make(edges), over];
  }, [surface, scene, backdrop]);
  useEffect(
    () => () => {
      for (const geometry of [sheet, lines, drawn]) geometry.dispose();
    },
    [sheet, lines, drawn],
  );
  if (look === "off") return null;
  return (
    <>
      <mesh geometry={sheet} renderOrder={5}>
        <meshLambertMaterial
          color={TONE.lo}
          transparent={look === "glass"}
          opacity={look === "glass" ? 0.16 : 1}
          side={DoubleSide}
          depthWrite={look === "solid"}
          polygonOffset
          polygonOffsetFactor={1}
        />
      </mesh>
      <lineSegments geometry={lines} renderOrder={6}>
        <lineBasicMaterial color={TONE.rule2} transparent opacity={0.55} />
      </lineSegments>
      <lineSegments geometry={drawn} renderOrder={6}>
        <lineBasicMaterial color={TONE.ink3} />
      </lineSegments>
    </>
  );
});
