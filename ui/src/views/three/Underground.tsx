import { useThree } from "@react-three/fiber";
import { memo, useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, LatheGeometry, Vector2, Vector3 } from "three";
import type { StormSeries } from "../../document/series";
import { type Conduit, isStore, type Network, spillOf, topOf } from "../../document/types";
import { controlsOf, floodRadius, type Piece, piecesOf, radiusAt, ringsOf, type Scene } from "./place";
import { edged, type Solid, Solids } from "./Solids";
import { TONE } from "./tones";

/** Levels at a moment: of nodes and of both ends of conduits; not a number while no storm is in. */
export type Water = { level: (node: string) => number; head: (link: string) => number; foot: (link: string) => number };

export function waterAt(series: StormSeries | null, moment: number): Water {
  const at = (name: string) => series?.at(name, moment) ?? Number.NaN;
  return { level: (id) => at(`level:${id}`), head: (id) => at(`head:${id}`), foot: (id) => at(`foot:${id}`) };
}

const toneOf = (fill: number) =>
  fill > 0.999
    ? TONE.water5
    : fill > 0.7
      ? TONE.water4
      : fill > 0.4
        ? TONE.water3
        : fill > 0.08
          ? TONE.water2
          : TONE.water1;

/** The hydraulic grade line at both ends of a piece, m: from the first cell to the last one, and on to the ends. */
function lineOf(piece: Piece, water: Water): [number, number] {
  const [head, foot] = [water.head(piece.id), water.foot(piece.id)];
  return [head + piece.along[0] * (foot - head), head + piece.along[1] * (foot - head)];
}

/** Everything under the ground and the water in it. */
export const Under = memo(function Under({
  network,
  scene,
  water,
  picked,
  pick,
  curtain,
  floods,
}: {
  network: Network;
  scene: Scene;
  water: Water;
  picked: ReadonlySet<string>;
  pick: (id: string) => void;
  curtain: boolean;
  floods: boolean;
}) {
  const pieces = useMemo(() => piecesOf(network), [network]);
  const least = scene.span / 420;
  const shaft = Math.max(scene.span / 110, 0.6);
  const spot = (x: number, y: number, z: number) => new Vector3(...scene.at(x, y, z));

  const pipes: Solid[] = pieces.map((piece) => {
    const [up, down] = lineOf(piece, water);
    const fill = Math.min(up - piece.beds[0], down - piece.beds[1]) / piece.height;
    const half = piece.height / 2;
    return {
      id: piece.id,
      from: spot(...piece.from, piece.beds[0] + half),
      to: spot(...piece.to, piece.beds[1] + half),
      radius: Math.max(half * Math.min(scene.upward, 12) * 0.5, least),
      tone: picked.has(piece.id) ? TONE.ink : Number.isFinite(fill) ? toneOf(fill) : TONE.hi,
    };
  });
  const controls: Solid[] = controlsOf(network).map(({ id, from, to }) => ({
    id,
    from: spot(from.x, from.y, from.invert),
    to: spot(to.x, to.y, to.invert),
    radius: least * 0.7,
    tone: picked.has(id) ? TONE.ink : TONE.rule2,
  }));
  const nodes = Object.entries(network.nodes);
  const shafts: Solid[] = nodes.flatMap(([id, node]) =>
    isStore(node)
      ? []
      : [
          {
            id,
            from: spot(node.x, node.y, node.invert),
            to: spot(node.x, node.y, topOf(node)),
            radius: node.kind === "outfall" ? shaft * 0.5 : shaft,
            tone: picked.has(id) ? TONE.ink3 : node.kind === "outfall" ? TONE.ink : TONE.rule,
          },
        ],
  );
  const lids: Solid[] = nodes.flatMap(([id, node]) =>
    isStore(node) || node.kind === "outfall"
      ? []
      : [
          {
            id,
            from: spot(node.x, node.y, spillOf(node)),
            to: spot(node.x, node.y, spillOf(node) + (0.004 * scene.span) / scene.upward),
            radius: shaft,
            tone: picked.has(id) ? TONE.ink : TONE.hi,
          },
        ],
  );
  const feet = shafts.map((solid) => ({ ...solid, to: solid.from.clone().add(new Vector3(0, 0, 0.003 * scene.span)) }));
  const held: Solid[] = nodes.flatMap(([id, node]) => {
    const level = water.level(id);
    if (node.kind === "outfall" || isStore(node) || !(level > node.invert + 1e-3)) return [];
    return [
      {
        id,
        from: spot(node.x, node.y, node.invert),
        to: spot(node.x, node.y, Math.min(level, spillOf(node))),
        radius: shaft * 0.86,
        tone: TONE.water4,
      },
    ];
  });
  const standing: Solid[] = nodes.flatMap(([id, node]) => {
    const level = water.level(id);
    if (node.kind === "outfall" || !(level > spillOf(node) + 1e-3)) return [];
    const thick = Math.max(level - spillOf(node), (0.006 * scene.span) / scene.upward);
    return [
      {
        id,
        from: spot(node.x, node.y, spillOf(node)),
        to: spot(node.x, node.y, spillOf(node) + thick),
        radius: Math.max(floodRadius(node), shaft * 2),
        tone: TONE.madder,
      },
    ];
  });
  return (
    <>
      <Solids solids={held} pick={pick} />
      <Solids solids={pipes} pick={pick} sides={10} />
      <Solids solids={edged(pipes, least * 0.3)} sides={10} inside />
      <Solids solids={controls} pick={pick} sides={6} />
      <Solids solids={shafts} pick={pick} opacity={0.5} capped={false} order={2} />
      <Solids solids={lids} pick={pick} />
      <Solids solids={edged(lids, least * 0.4)} inside />
      <Solids solids={edged(feet, least * 0.3)} inside />
      {nodes.map(([id, node]) =>
        isStore(node) ? (
          <StoreSolid
            key={id}
            node={node}
            scene={scene}
            level={water.level(id)}
            picked={picked.has(id)}
            pick={() => pick(id)}
          />
        ) : null,
      )}
      {curtain && <Curtain pieces={pieces} network={network} scene={scene} water={water} />}
      {floods && <Solids solids={standing} pick={pick} opacity={0.55} sides={28} order={4} />}
    </>
  );
});

/** A store as a bowl of equal areas, open above, and the water in it. */
function StoreSolid({
  node,
  scene,
  level,
  picked,
  pick,
}: {
  node: Parameters<typeof ringsOf>[0];
  scene: Scene;
  level: number;
  picked: boolean;
  pick: () => void;
}) {
  const rings = useMemo(() => ringsOf(node), [node]);
  const [x, y, floor] = scene.at(node.x, node.y, node.invert);
  const bowl = useMemo(() => {
    const up = (z: number) => (z - node.invert) * scene.upward;
    return new LatheGeometry([new Vector2(0, 0), ...rings.map((r) => new Vector2(r.radius, up(r.level)))], 36);
  }, [rings, node.invert, scene.upward]);
  const shown = Number.isFinite(level) ? Math.min(level, spillOf(node)) : node.invert;
  const water = useMemo(() => {
    const up = (z: number) => (z - node.invert) * scene.upward;
    const below = rings.filter((r) => r.level < shown);
    const edge = radiusAt(rings, shown);
    return new LatheGeometry(
      [
        new Vector2(0, 0),
        ...below.map((r) => new Vector2(r.radius * 0.985, up(r.level))),
        new Vector2(edge * 0.985, up(shown)),
        new Vector2(0, up(shown)),
      ],
      36,
    );
  }, [rings, shown, node.invert, scene.upward]);
  useEffect(() => () => bowl.dispose(), [bowl]);
  useEffect(() => () => water.dispose(), [water]);
  const rim = rings.at(-1);
  return (
    // a lathe turns about its own height: stood up
    <group position={[x, y, floor]} rotation={[Math.PI / 2, 0, 0]}>
      <mesh
        geometry={bowl}
        renderOrder={2}
        onClick={(event) => {
          if (event.delta > 4) return;
          event.stopPropagation();
          pick();
        }}
      >
        <meshLambertMaterial
          color={picked ? TONE.ink3 : TONE.water1}
          transparent
          opacity={0.4}
          side={DoubleSide}
          depthWrite={false}
        />
      </mesh>
      {shown > node.invert + 1e-3 && (
        <mesh geometry={water}>
          <meshLambertMaterial color={TONE.water3} side={DoubleSide} />
        </mesh>
      )}
      {rim && (
        <mesh rotation={[Math.PI / 2, 0, 0]} position={[0, (rim.level - node.invert) * scene.upward, 0]}>
          <torusGeometry args={[rim.radius, scene.span / 600, 6, 48]} />
          <meshBasicMaterial color={TONE.ink} />
        </mesh>
      )}
    </group>
  );
}

/** Where a conduit is under pressure: a sheet from its soffit up to the hydraulic grade line. */
function Curtain({ pieces, network, scene, water }: { pieces: Piece[]; network: Network; scene: Scene; water: Water }) {
  const invalidate = useThree((state) => state.invalidate);
  const geometry = useMemo(() => new BufferGeometry(), []);
  const edge = useMemo(() => new BufferGeometry(), []);
  useEffect(() => {
    const [sheet, line]: [number[], number[]] = [[], []];
    for (const piece of pieces) {
      const link = network.links[piece.id] as Conduit;
      const [h0, h1] = lineOf(piece, water);
      const [s0, s1] = [piece.beds[0] + piece.height, piece.beds[1] + piece.height];
      if (link.kind === "channel" || !(h0 > s0 || h1 > s1)) continue;
      const a = scene.at(...piece.from, s0);
      const b = scene.at(...piece.to, s1);
      const c = scene.at(...piece.to, Math.max(h1, s1));
      const d = scene.at(...piece.from, Math.max(h0, s0));
      sheet.push(...a, ...b, ...c, ...a, ...c, ...d);
      line.push(...d, ...c);
    }
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(sheet), 3));
    edge.setAttribute("position", new BufferAttribute(new Float32Array(line), 3));
    invalidate();
  });
  return (
    <>
      <mesh geometry={geometry} frustumCulled={false} renderOrder={3}>
        <meshBasicMaterial color={TONE.water3} transparent opacity={0.45} side={DoubleSide} depthWrite={false} />
      </mesh>
      <lineSegments geometry={edge} frustumCulled={false} renderOrder={3}>
        <lineBasicMaterial color={TONE.water4} />
      </lineSegments>
    </>
  );
}
