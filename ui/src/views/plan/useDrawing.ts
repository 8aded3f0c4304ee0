import { useEffect, useRef, useState } from "react";
import { api, call } from "../../api/client";
import { drawRun } from "../../document/drawRun";
import {
  type Drawable,
  freeName,
  isNodeKind,
  isOutlined,
  makeLink,
  makeNode,
  type NodeKind,
} from "../../document/elements";
import { linkNear, split } from "../../document/reshape";
import { useProject } from "../../document/store";
import type { Point } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { nodeNear } from "./gestures";

/** What splits a conduit when it is added on one. */
export const ON_A_CONDUIT = new Set<Drawable>(["manhole", "junction", "inlet"]);

const round = (value: number) => Number(value.toFixed(2));

/** Clicks that draw elements: one for a node, two for a link, a row of them for a run of pipes or an outline. */
export function useDrawing(adding: Drawable | null, added: () => void) {
  const [from, setFrom] = useState<string | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
  const [said, setSaid] = useState("");
  // clicks along a run wait for the one before: each begins where that has ended
  const run = useRef({ from: null as string | null, done: Promise.resolve() });

  useEffect(() => {
    run.current.from = null;
    setFrom(null);
    setCorners([]);
    if (adding) setSaid("");
  }, [adding]);

  /** Level of the ground at a place where a terrain is kept with the project. */
  const groundLevel = async (x: number, y: number): Promise<number | null> => {
    const { id, option, project } = useProject.getState();
    if (!id || !project?.terrain) return null;
    const path = { project_id: id, option };
    return call(
      api.POST("/api/projects/{project_id}/terrain/levels", { params: { path }, body: { places: [[x, y]] } }),
    ).then(
      ([level]) => level ?? null,
      () => null, // its file is not kept here: the nodes around tell the ground
    );
  };

  const put = (collection: "nodes" | "links", value: unknown) => {
    const { optionPath, edit, point } = useProject.getState();
    const id = crypto.randomUUID();
    void edit([{ op: "add", path: `${optionPath}/${collection}/${id}`, value }]);
    point({ element: id });
    setFrom(null);
    added();
  };

  const layNext = async (x: number, y: number, within: number) => {
    const { network, project, optionPath, edit, point } = useProject.getState();
    if (!network || !project) return;
    const hit = nodeNear(network, x, y, within);
    const begins = run.current.from;
    const known = hit ? null : await groundLevel(x, y);
    const { changes, at } = drawRun(
      network,
      optionPath,
      project.defaults,
      project.catalogue,
      begins,
      hit ? { node: hit } : { x, y },
      known,
    );
    if (changes.length) await edit(changes);
    const after = useProject.getState().network?.nodes[at];
    if (!after) return; // refused: the notice says why, and the run goes on from where it was
    point({ element: at });
    const ends = after.kind === "outfall" || (hit !== null && begins !== null && changes.length > 0);
    run.current.from = ends ? null : at;
    setFrom(run.current.from);
  };

  const layNode = async (kind: NodeKind, x: number, y: number, within: number) => {
    const ground = await groundLevel(x, y);
    const { network, optionPath, edit, point } = useProject.getState();
    if (!network) return;
    const node = makeNode(network, kind, x, y, ground);
    const on = ON_A_CONDUIT.has(kind) ? linkNear(network, x, y, within / 2) : null;
    if (!on || nodeNear(network, x, y, within / 2)) return put("nodes", node);
    const cut = split(network, optionPath, on, node);
    void edit(cut.changes);
    point({ element: cut.at });
    added();
  };

  /** The outline is done: a pond over it or, without corners enough, one of a usual size; or a catchment. */
  const close = async (ring: Point[]) => {
    const { id, option, network, optionPath, edit, point } = useProject.getState();
    if (!network || !id || ring.length === 0) return;
    setCorners([]);
    if (adding === "basin") {
      const [x, y] = ring.length > 2 ? middle(ring) : (ring[0] ?? [0, 0]);
      const node = makeNode(network, "basin", x, y, await groundLevel(x, y));
      put("nodes", ring.length > 2 ? { ...node, base: ring.map(([px, py]) => [round(px), round(py)]) } : node);
      return;
    }
    if (ring.length < 3) return setSaid("an outline needs three corners at least");
    try {
      const found = await call(
        api.POST("/api/projects/{project_id}/options/{option}/outline", {
          params: { path: { project_id: id, option } },
          body: { ring },
        }),
      );
      const { polygon, area, node } = found;
      const name = freeName(new Set(Object.values(network.catchments).map((c) => c.name)), "Area 0");
      const ground = crypto.randomUUID();
      await edit([{ op: "add", path: `${optionPath}/catchments/${ground}`, value: { name, polygon, area, node } }]);
      point({ element: ground });
      setSaid(`${name}: ${show(area, "area")} ${unitOf("area")}; ${found.remarks.join("; ")}`);
    } catch (error) {
      setSaid(error instanceof Error ? error.message : String(error));
    }
  };

  const click = (x: number, y: number, within: number) => {
    const { network } = useProject.getState();
    if (!network || !adding) return;
    if (adding === "run") {
      run.current.done = run.current.done.then(() => layNext(x, y, within));
    } else if (isOutlined(adding)) {
      const [first] = corners;
      const home = corners.length > 2 && first && Math.hypot(first[0] - x, first[1] - y) < within;
      if (home) void close(corners);
      else setCorners([...corners, [round(x), round(y)]]);
    } else if (isNodeKind(adding)) void layNode(adding, x, y, within);
    else {
      const hit = nodeNear(network, x, y, within);
      if (!hit) return;
      if (from && from !== hit) put("links", makeLink(network, adding, from, hit));
      else setFrom(hit);
    }
  };

  /** Enter ends what goes on from click to click; Backspace takes the last corner back. */
  const key = (name: string): boolean => {
    if (name === "Enter" && corners.length) void close(corners);
    else if (name === "Enter" && adding === "run") {
      run.current.from = null;
      setFrom(null);
    } else if (name === "Backspace" && corners.length) setCorners(corners.slice(0, -1));
    else return false;
    return true;
  };
  return { click, key, from, corners, said };
}

const middle = (ring: Point[]): Point => [
  ring.reduce((sum, [x]) => sum + x, 0) / ring.length,
  ring.reduce((sum, [, y]) => sum + y, 0) / ring.length,
];
