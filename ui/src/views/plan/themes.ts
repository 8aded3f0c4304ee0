/** Results as tones and labels on the plan: what each element is given, and the legend that says what it means. */
import type { Answer } from "../../api/client";
import type { Network, PlanLook } from "../../document/types";
import { FOOT, percentOf, type Quantity, show, unitOf } from "../../document/units";
import type { RowResults } from "../results/elementResults";

type Theme = PlanLook["theme"];

export const THEMES: Record<Theme, string> = {
  water: "water at the moment",
  state: "state",
  full: "flow over full capacity",
  speed: "velocity",
  flood: "flood volume",
  left: "water below cover",
  duration: "governing duration",
};

/** Never colour alone: what is near its limit is dotted, what is over it is broken. */
type Mark = "tight" | "over" | "";
/** heavy : 0 to 1, by which a mark on a node grows; text : what its label says. */
export type Toned = { tone: string; mark: Mark; text: string; heavy: number };
export type Entry = { tone: string; mark: Mark; text: string; count: number };
export type Themed = { nodes: Map<string, Toned>; links: Map<string, Toned>; legend: Entry[]; missing: string };

const RAMP = ["#dce9e3", "#b3d5d0", "#73aeb0", "#25727d", "#0e4a58"];
const OCHRE = "#cc9433";
const MADDER = "#9e2a3b";
const INK = "#1d2427";

/** Of what a theme should tell of and no storm has computed. */
export const NOT_COMPUTED = "#d5ccb8";
const OF_NODES = new Set<Theme>(["state", "flood", "left", "duration"]);
const OF_LINKS = new Set<Theme>(["state", "full", "speed", "duration"]);

type Class = { tone: string; mark: Mark; text: string };
const plain = (tone: string, text: string): Class => ({ tone, mark: "", text });
const tight = (text: string): Class => ({ tone: OCHRE, mark: "tight", text });
const over = (text: string): Class => ({ tone: MADDER, mark: "over", text });

/** Classes between round bounds; `bounds` as they are kept, `told` as they are read. */
function bands(bounds: number[], told: string[], unit: string, look: (k: number, text: string) => Class): Class[] {
  return [...bounds, Number.POSITIVE_INFINITY].map((_, k) => {
    const [low, high] = [told[k - 1], told[k]];
    const range = low === undefined ? `below ${high}` : high === undefined ? `${low} and more` : `${low} to ${high}`;
    return look(k, unit ? `${range} ${unit}` : range);
  });
}
const classOf = (value: number, bounds: number[]) => bounds.filter((bound) => value >= bound).length;

const ROUND: Partial<Record<Quantity, { m: number[]; ft: number[] }>> = {
  speed: { m: [0.6, 1, 2, 3], ft: [2, 4, 7, 10] },
  length: { m: [0, 0.3, 0.6, 1], ft: [0, 1, 2, 3] },
};

/** Round bounds in the project's units: as they are kept, and as they are read. */
function rounded(quantity: "speed" | "length"): { bounds: number[]; told: string[] } {
  const feet = unitOf("length") === "ft";
  const told = ROUND[quantity]?.[feet ? "ft" : "m"] ?? [];
  return { bounds: told.map((bound) => (feet ? bound * FOOT : bound)), told: told.map(String) };
}

const STATES: Record<string, Class> = {
  ok: plain(RAMP[1] ?? "", "within"),
  surcharged: plain(RAMP[4] ?? "", "surcharged"),
  "flood risk": tight("flood risk"),
  flooded: over("floods"),
};

/** What each element is given by a theme. results : over the storms that are asked for; those that are missing are told. */
export function themed(theme: Theme, results: RowResults["elements"], network: Network, answer: Answer): Themed {
  const nodes = new Map<string, Toned>();
  const links = new Map<string, Toned>();
  const put = (into: Map<string, Toned>, id: string, one: Class, text: string, heavy = 0.3) => {
    into.set(id, { tone: one.tone, mark: one.mark, text, heavy });
  };
  const figure = (value: number, quantity: Quantity) => `${show(value, quantity)} ${unitOf(quantity)}`;
  const left = (value: number) => `${figure(value, "length")} left`;
  const known: Class[] = [];
  if (theme === "state") {
    known.push(...Object.values(STATES));
    for (const [id, one] of Object.entries(results.nodes)) {
      const text =
        one.state === "flooded" ? figure(one.flooded, "volume") : one.state === "flood risk" ? left(one.left) : "";
      put(nodes, id, STATES[one.state] as Class, text, one.state === "flooded" ? 0.7 : 0.3);
    }
    const why = { capacity: "own capacity", backwater: "backed up" };
    for (const [id, one] of Object.entries(results.links))
      if (one.clearance !== null) put(links, id, STATES[one.state] as Class, one.why ? why[one.why] : "");
  } else if (theme === "full") {
    const bounds = [0.5, 0.8, 1, 1.5];
    const look = bands(bounds, ["50", "80", "100", "150"], "%", (k, text) =>
      k < 3 ? plain(RAMP[k + 1] ?? "", text) : k === 3 ? tight(text) : over(text),
    );
    known.push(...look);
    for (const [id, one] of Object.entries(results.links))
      if (one.share !== null) put(links, id, look[classOf(one.share, bounds)] as Class, percentOf(one.share));
  } else if (theme === "speed") {
    const { bounds, told } = rounded("speed");
    const look = bands(bounds, told, unitOf("speed"), (k, text) => plain(RAMP[k] ?? "", text));
    known.push(...look);
    for (const [id, one] of Object.entries(results.links))
      if (one.speed !== null)
        put(links, id, look[classOf(one.speed, bounds)] as Class, `${show(one.speed, "speed")} ${unitOf("speed")}`);
  } else if (theme === "flood") {
    const [dry, wet] = [plain(RAMP[0] ?? "", "does not flood"), over("floods; a larger mark, a larger volume")];
    known.push(dry, wet);
    const most = Math.max(...Object.values(results.nodes).map((one) => one.flooded), 1e-9);
    for (const [id, one] of Object.entries(results.nodes))
      if (one.flooded > 0) put(nodes, id, wet, figure(one.flooded, "volume"), Math.sqrt(one.flooded / most));
      else put(nodes, id, dry, "");
  } else if (theme === "left") {
    const { bounds, told } = rounded("length");
    const look = bands(bounds, told, unitOf("length"), (k, text) =>
      k === 0 ? over("above its cover") : k === 1 ? tight(text) : plain(RAMP[5 - k] ?? "", text),
    );
    known.push(...look);
    for (const [id, one] of Object.entries(results.nodes))
      put(nodes, id, look[classOf(one.left, bounds)] as Class, figure(one.left, "length"), one.left < 0 ? 0.7 : 0.3);
  } else if (theme === "duration") {
    const storms = new Map(answer.storms.map((storm) => [storm.key, storm]));
    const said = (key: string) => storms.get(key)?.given || `${storms.get(key)?.duration ?? "?"} min`;
    const length = (key: string) => storms.get(key)?.duration ?? 0;
    const found = [
      ...new Set([...Object.values(results.nodes), ...Object.values(results.links)].map((one) => one.storm)),
    ];
    const names = [...new Set(found.sort((a, b) => length(a) - length(b)).map(said))];
    const look = new Map(names.map((name, k) => [name, plain(stepOf(k, names.length), name)]));
    known.push(...look.values());
    for (const [id, one] of Object.entries(results.nodes))
      put(nodes, id, look.get(said(one.storm)) as Class, said(one.storm));
    for (const [id, one] of Object.entries(results.links))
      put(links, id, look.get(said(one.storm)) as Class, said(one.storm));
  }
  const all = [...nodes.values(), ...links.values()];
  const counted = (one: Class) => all.filter((each) => each.tone === one.tone && each.mark === one.mark).length;
  const legend = known.map((one) => ({ ...one, count: counted(one) }));
  const lacking = [
    ...(OF_NODES.has(theme)
      ? Object.keys(network.nodes).filter((id) => !results.nodes[id] && !results.outfalls[id])
      : []),
    ...(OF_LINKS.has(theme) ? Object.keys(network.links).filter((id) => !results.links[id]) : []),
  ].length;
  if (lacking > 0) legend.push({ tone: NOT_COMPUTED, mark: "", text: "not computed", count: lacking });
  return { nodes, links, legend, missing: results.missing };
}

/** The k-th of so many tones, light to dark; of more than the ramp has, those between are mixed. */
function stepOf(k: number, many: number): string {
  const at = many > 1 ? (k / (many - 1)) * (RAMP.length - 1) : RAMP.length - 1;
  const [low, high] = [RAMP[Math.floor(at)] ?? INK, RAMP[Math.ceil(at)] ?? INK];
  const part = (hex: string, from: number) => Number.parseInt(hex.slice(from, from + 2), 16);
  const mixed = [1, 3, 5].map((from) =>
    Math.round(part(low, from) + (at % 1) * (part(high, from) - part(low, from)))
      .toString(16)
      .padStart(2, "0"),
  );
  return `#${mixed.join("")}`;
}
