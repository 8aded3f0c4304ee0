import { courseOf } from "../../document/course";
import type { StormSeries } from "../../document/series";
import { isStore, type Network, type Point } from "../../document/types";
import type { Flags } from "../results/useRuleElements";
import { halfWay } from "./names";
import { type Lens, MovingLayer } from "./waterLayers";

type Flagged = { at: Point; fails: boolean; size: number };

const NONE: Flags = new Map();

/** A flag on each element that breaks the picked rule (striped), or nearly does (dotted), as on the long section. */
export class RuleFlags extends MovingLayer<Flagged> {
  private flags: Flags = NONE;

  flag(flags: Flags) {
    this.flags = flags;
    this.arrangeAnew();
  }

  protected arrange(network: Network, moved: Network | null, _: StormSeries | null, lens: Lens): Flagged[] {
    return [...this.flags].flatMap(([id, state]): Flagged[] => {
      const node = moved?.nodes[id] ?? network.nodes[id];
      const link = network.links[id];
      const at = node
        ? lens.seen([node.x, node.y])
        : link
          ? halfWay(courseOf(moved?.links[id] ? moved : network, link).map(lens.seen))
          : null;
      if (!at || !lens.within(at)) return [];
      return [{ at, fails: state === "fails", size: node && isStore(node) ? 15 : 7 }];
    });
  }

  protected paint(context: CanvasRenderingContext2D, placed: Flagged[]) {
    for (const { at, fails, size } of placed) {
      const [x, foot, head] = [at[0], at[1] - size, at[1] - size - 17];
      context.lineWidth = 1;
      context.strokeStyle = "#1d2427";
      context.beginPath();
      context.moveTo(x, foot);
      context.lineTo(x, head);
      context.stroke();
      context.beginPath();
      context.moveTo(x, head);
      context.lineTo(x + 10, head);
      context.lineTo(x + 7, head + 4);
      context.lineTo(x + 10, head + 8);
      context.lineTo(x, head + 8);
      context.closePath();
      context.fillStyle = fails ? "#9e2a3b" : "#cc9433";
      context.fill();
      context.strokeStyle = "#fcfaf3";
      context.beginPath();
      if (fails) {
        context.moveTo(x + 1, head + 7);
        context.lineTo(x + 7, head + 1);
      } else for (const dx of [2.5, 5.5]) context.rect(x + dx, head + 3.5, 1, 1);
      context.stroke();
    }
  }
}
