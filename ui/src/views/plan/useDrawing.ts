import { useEffect, useRef, useState } from "react";
import { api, call } from "../../api/client";
import { linkNear } from "../../document/course";
import { snapped } from "../../document/snap";
import { useProject } from "../../document/store";
import type { Edit, Point } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { type Drawable, isDrawnNode, isOutlined } from "../../kinds";
import type { DrawnNode } from "../../kinds/node";
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
    // an outfall that is asked for within a run ends it
    if (adding !== "outfall" && adding !== "run") run.current.from = null;
    setFrom(run.current.from);
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

  /** Draw something, and point at it; drawn is what was made, if it was not refused. */
  const put = async (edit: Edit): Promise<string | null> => {
    const [made] = await useProject.getState().apply([edit]);
    if (!made) return null; // refused: the notice says why
    useProject.getState().point({ element: made });
    setFrom(null);
    added();
    return made;
  };

  const layNext = async (x: number, y: number, within: number, drawn: "manhole" | "outfall" = "manhole") => {
    const { network, apply, point } = useProject.getState();
    if (!network) return;
    const hit = nodeNear(network, x, y, within);
    const begins = run.current.from;
    const ground = hit ? null : await groundLevel(x, y);
    const [at] = await apply([{ edit: "draw run", begins, to: hit ?? [x, y], ground, drawn }]);
    const after = at && useProject.getState().network?.nodes[at];
    if (!at || !after) return; // refused: the notice says why, and the run goes on from where it was
    point({ element: at });
    const laid = useProject.getState().network?.links !== network.links;
    const ends = after.kind === "outfall" || drawn === "outfall" || (hit !== null && begins !== null && laid);
    run.current.from = ends ? null : at;
    setFrom(run.current.from);
    if (drawn === "outfall") added();
  };

  const layNode = async (kind: DrawnNode, x: number, y: number, within: number) => {
    const ground = await groundLevel(x, y);
    const { network } = useProject.getState();
    if (!network) return;
    const on = ON_A_CONDUIT.has(kind) ? linkNear(network, x, y, within / 2) : null;
    if (!on || nodeNear(network, x, y, within / 2)) await put({ edit: "draw node", drawn: kind, x, y, ground });
    else await put({ edit: "split", link: on.id, share: on.share, drawn: kind, ground });
  };

  /** The outline is done: a pond over it or, without corners enough, one of a usual size; or a catchment. */
  const close = async (ring: Point[]) => {
    const { id, option } = useProject.getState();
    if (!id || ring.length === 0) return;
    setCorners([]);
    if (adding === "basin") {
      const [x, y] = ring.length > 2 ? middle(ring) : (ring[0] ?? [0, 0]);
      const base = ring.map(([px, py]) => [round(px), round(py)]);
      const fields = ring.length > 2 ? { base } : {};
      await put({ edit: "draw node", drawn: "basin", x, y, ground: await groundLevel(x, y), fields });
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
      const ground = await put({ edit: "draw catchment", area, fields: { polygon, node } });
      const name = ground && useProject.getState().network?.catchments[ground]?.name;
      if (name) setSaid(`${name}: ${show(area, "area")} ${unitOf("area")}; ${found.remarks.join("; ")}`);
    } catch (error) {
      setSaid(error instanceof Error ? error.message : String(error));
    }
  };

  const click = (x: number, y: number, within: number) => {
    const { network } = useProject.getState();
    if (!network || !adding) return;
    if (adding === "run") {
      run.current.done = run.current.done.then(() => layNext(x, y, within));
    } else if (adding === "outfall" && run.current.from) {
      run.current.done = run.current.done.then(() => layNext(x, y, within, "outfall"));
    } else if (isOutlined(adding)) {
      const [first] = corners;
      const home = corners.length > 2 && first && Math.hypot(first[0] - x, first[1] - y) < within;
      if (home) return void close(corners);
      const [px, py] = snapped(useProject.getState().project, network, [x, y], within);
      setCorners([...corners, [round(px), round(py)]]);
    } else if (isDrawnNode(adding)) void layNode(adding, x, y, within);
    else {
      const hit = nodeNear(network, x, y, within);
      if (!hit) return;
      if (from && from !== hit) void put({ edit: "draw link", drawn: adding, upstream: from, downstream: hit });
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
