/** What every element does, as cells of tables: by return period side by side, or over some storms. */
import type { Answer } from "../../api/client";
import type { components } from "../../api/schema";
import type { Network } from "../../document/types";
import { clock, percentOf, show, unitOf } from "../../document/units";
import { byTheGrid } from "../../primitives/ByTheGrid";
import type { Cell, Column, Kind, Line } from "./ResultTable";

export type RowResults = components["schemas"]["RowResults"];
type Group = "nodes" | "links" | "stores" | "outfalls" | "pumps";
type Of<K extends Group> = RowResults["elements"][K][string];
export type Tables = { columns: Partial<Record<Kind, Column[]>>; results: Partial<Record<Kind, Line[]>> };

type Told = { network: Network; answer: Answer };

const nameOf = (network: Network, id: string | null | undefined) =>
  network.nodes[id ?? ""]?.name ?? network.links[id ?? ""]?.name ?? "";

/** The state of a node or a link in words, the same on plan, in tables and in reports. */
export function stateWord(
  state: Of<"nodes">["state"] | Of<"links">["state"],
  why: Of<"nodes">["why"],
  by: string,
  flooded = 0,
): string {
  const cause = why === "capacity" ? ", own capacity" : why === "backwater" ? `, backed up by ${by}` : "";
  if (state === "flooded") {
    const told = show(flooded, "volume");
    return `floods ${Number(told) === 0 ? "under 0.0001" : told} ${unitOf("volume")}`;
  }
  if (state === "surcharged") return `surcharged${cause}`;
  return state === "ok" ? "within" : state;
}

const stormOf = ({ answer }: Told, key: string | null | undefined, row: boolean): Cell => {
  const storm = answer.storms.find((s) => s.key === key);
  if (!storm) return { text: "–", sort: "" };
  const short = storm.given || `${storm.duration} ${storm.season}`;
  const mark = storm.beyond.length > 0 ? " ?" : "";
  return {
    text: (row ? `${storm.row}, ${short}` : short) + mark,
    sort: `${row ? storm.row : ""} ${String(storm.duration).padStart(6, "0")} ${storm.season}`,
    note: storm.label + (mark && ", to be checked"),
  };
};
const at = (seconds: number | null | undefined): Cell => ({
  text: seconds == null ? "–" : clock(seconds),
  sort: seconds ?? -1,
});
const number = (value: number | null | undefined, quantity: Parameters<typeof show>[1], digits?: number): Cell => ({
  text: show(value, quantity, digits),
  sort: value ?? -1e12,
});
const percent = (share: number | null | undefined): Cell => ({
  text: percentOf(share),
  sort: share ?? -1,
});

function nodeState({ network }: Told, one: Of<"nodes">): Cell {
  return {
    text: stateWord(one.state, one.why, nameOf(network, one.by), one.flooded),
    sort: ["ok", "surcharged", "flood risk", "flooded"].indexOf(one.state) + Math.min(one.flooded / 1e6, 0.9),
    bad: one.state === "flooded",
    ...(one.state === "flooded" ? { mark: "over" } : one.state === "flood risk" ? { mark: "tight" } : {}),
  };
}
const linkState = ({ network }: Told, one: Of<"links">): Cell => ({
  text: one.clearance === null ? "" : stateWord(one.state, one.why, nameOf(network, one.by)),
  sort: one.state === "surcharged" ? 1 - (one.clearance ?? 0) : 0,
  bad: one.state === "surcharged",
});

const label = (name: string, unit = ""): string => (unit ? `${name} ${unit}` : name);

/** Return periods side by side: the state, what is left, and the storm of each. */
export function byPeriod(told: Told, periods: RowResults[]): Tables {
  const { network } = told;
  const columns = (parts: [string, string, boolean?][]): Column[] =>
    periods.flatMap((period, k) => {
      const rules = period.rules.length
        ? `${period.rules.length > 1 ? "rules" : "rule"}: ${period.rules.join("; ")}`
        : "";
      const note = [period.elements.missing && `${period.elements.missing}, so far`, rules].filter(Boolean).join("; ");
      return parts.map(([key, text, left]) => ({
        key: `${key}${k}`,
        label: text,
        ...(left ? { left: true } : { downFirst: key !== "left" }),
        group: { name: period.name, note },
      }));
    });
  const lines = <K extends Group>(
    kind: K,
    cells: (one: Of<K>) => Record<string, Cell> & { storm: Cell },
    storm: (one: Of<K>) => [string, number | null],
  ): Line[] => {
    const ids = new Set(periods.flatMap((period) => Object.keys(period.elements[kind])));
    return [...ids].map((id) => {
      const own: Record<string, Cell> = {};
      for (const [k, period] of periods.entries()) {
        const one = period.elements[kind][id] as Of<K> | undefined;
        if (!one) continue;
        const [key, moment] = storm(one);
        for (const [name, cell] of Object.entries(cells(one))) own[`${name}${k}`] = { ...cell, storm: key, moment };
      }
      return { id, name: nameOf(network, id), storm: null, cells: own };
    });
  };
  return {
    columns: {
      nodes: columns([
        ["state", "state", true],
        ["left", label("left", unitOf("length"))],
        ["storm", "storm", true],
      ]),
      links: columns([
        ["state", "state", true],
        ["share", "of full"],
        ["storm", "storm", true],
      ]),
      storage: columns([
        ["used", "used", true],
        ["left", label("freeboard", unitOf("length"))],
        ["storm", "storm", true],
      ]),
      outfalls: columns([
        ["flow", label("flow", unitOf("flow"))],
        ["volume", label("volume", unitOf("volume"))],
        ["storm", "storm", true],
      ]),
      ...(pumped(periods)
        ? {
            pumps: columns([
              ["starts", "starts"],
              ["run", "run h"],
              ["storm", "storm", true],
            ]),
          }
        : {}),
    },
    results: {
      nodes: lines(
        "nodes",
        (one) => ({
          state: nodeState(told, one),
          left: { ...number(one.left, "length"), bad: one.left < 0 },
          storm: stormOf(told, one.storm, false),
        }),
        (one) => [one.storm, one.time],
      ),
      links: lines(
        "links",
        (one) => ({
          state: linkState(told, one),
          share: percent(one.share),
          storm: stormOf(told, one.clearance_storm ?? one.storm, false),
        }),
        (one) => [one.clearance_storm ?? one.storm, one.time],
      ),
      storage: lines(
        "stores",
        (one) => ({
          used: { ...percent(one.share), mark: one.share },
          left: { ...number(one.freeboard, "length"), bad: one.freeboard < 0 },
          storm: stormOf(told, one.storm, false),
        }),
        (one) => [one.storm, one.time],
      ),
      outfalls: lines(
        "outfalls",
        (one) => ({
          flow: number(one.flow, "flow"),
          volume: { ...number(one.volume, "volume"), note: stormOf(told, one.volume_storm, false).note ?? "" },
          storm: stormOf(told, one.storm, false),
        }),
        (one) => [one.storm, one.time],
      ),
      pumps: lines(
        "pumps",
        (one) => ({ ...pumpCells(one), storm: stormOf(told, one.storm, false) }),
        (one) => [one.storm, null],
      ),
    },
  };
}

const pumped = (periods: RowResults[]) => periods.some((period) => Object.keys(period.elements.pumps).length > 0);

/** What a station does; where its log was full the counts are the least that happened. */
function pumpCells(one: Of<"pumps">): Record<string, Cell> {
  const least = one.counted ? "" : "≥ ";
  const note = one.counted ? {} : { note: "more happened in the storm than its log holds" };
  return {
    starts: { text: `${least}${one.starts}`, sort: one.starts, ...note },
    hour: { text: `${least}${one.most_in_hour}`, sort: one.most_in_hour, ...note },
    run: { ...number(one.running, "hours"), ...note },
    volume: number(one.volume, "volume"),
    energy: {
      text: one.energy === null ? "–" : (one.energy / 3.6e6).toFixed(1),
      sort: one.energy ?? -1,
      ...(one.energy === null ? { note: "an efficiency is not given" } : {}),
    },
    beyond: { ...number(one.beyond, "hours"), bad: one.beyond > 0 },
  };
}

/** Every figure over one set of storms. patterned: it is the highest single pattern that governs. */
export function overStorms(told: Told, found: RowResults, oneStorm: boolean): Tables {
  const { network } = told;
  const { nodes, links, stores, outfalls, pumps } = found.elements;
  const worth = (of: "level" | "flow", id: string, unit: "m" | "m3/s") => {
    const note = oneStorm ? "" : byTheGrid(told.answer.worth[of][id], unit);
    return note ? { note } : {};
  };
  const own = <T extends { storm: string; time: number | null }>(
    of: Record<string, T>,
    cells: (one: T, id: string) => Record<string, Cell>,
  ): Line[] =>
    Object.entries(of).map(([id, one]) => ({
      id,
      name: nameOf(network, id),
      storm: one.storm,
      moment: one.time,
      cells: { ...(oneStorm ? {} : { storm: stormOf(told, one.storm, true) }), time: at(one.time), ...cells(one, id) },
    }));
  const [length, flow, volume] = [unitOf("length"), unitOf("flow"), unitOf("volume")];
  const storm: Column[] = oneStorm ? [] : [{ key: "storm", label: "governing storm", left: true }];
  const figure = (key: string, text: string, unit = ""): Column => ({ key, label: label(text, unit), downFirst: true });
  return {
    columns: {
      nodes: [
        ...storm,
        figure("level", "level", unitOf("level")),
        { key: "time", label: "at" },
        figure("depth", "depth", length),
        { key: "left", label: label("below cover", length) },
        { key: "state", label: "state", left: true, downFirst: true },
        figure("flood", "flood", volume),
      ],
      links: [
        ...storm,
        figure("flow", "flow", flow),
        { key: "time", label: "at" },
        figure("share", "of full"),
        figure("speed", "velocity", unitOf("speed")),
        { key: "left", label: label("to soffit", length) },
        { key: "state", label: "state", left: true, downFirst: true },
      ],
      storage: [
        ...storm,
        figure("capacity", "capacity", volume),
        figure("volume", "held", volume),
        { key: "used", label: "used", left: true, downFirst: true },
        figure("top", "top water", unitOf("level")),
        { key: "time", label: "at" },
        { key: "left", label: label("freeboard", length) },
        figure("in", "in", flow),
        figure("out", "out", flow),
        figure("attenuation", "held back"),
        figure("lag", "lag h"),
        figure("half", "half-drain h"),
        figure("soaked", "infiltrated", volume),
      ],
      outfalls: [
        ...storm,
        figure("flow", "flow", flow),
        { key: "time", label: "at" },
        figure("volume", "volume", volume),
        ...(oneStorm ? [] : [{ key: "most", label: "most volume in", left: true }]),
      ],
      ...(pumped([found])
        ? {
            pumps: [
              ...storm,
              figure("starts", "starts"),
              figure("hour", "most in an hour"),
              figure("run", "run h"),
              figure("volume", "lifted", volume),
              figure("energy", "energy kWh"),
              figure("beyond", "off its curve h"),
            ],
          }
        : {}),
    },
    results: {
      nodes: own(nodes, (one, id) => ({
        level: { ...number(one.level, "level", 2), ...worth("level", id, "m") },
        depth: number(one.depth, "length"),
        left: { ...number(one.left, "length"), bad: one.left < 0 },
        state: nodeState(told, one),
        ...(one.flooded > 0 ? { flood: number(one.flooded, "volume") } : {}),
      })),
      links: own(links, (one, id) => ({
        flow: { ...number(one.flow, "flow"), ...worth("flow", id, "m3/s") },
        share: percent(one.share),
        ...(one.speed === null ? {} : { speed: number(one.speed, "speed") }),
        ...(one.clearance === null
          ? {}
          : {
              left: {
                ...number(one.clearance, "length"),
                bad: one.clearance < 0,
                note: oneStorm ? "" : `in ${stormOf(told, one.clearance_storm, true).text}`,
              },
            }),
        state: linkState(told, one),
      })),
      storage: own(stores, (one) => ({
        capacity: number(one.capacity, "volume"),
        volume: number(one.volume, "volume"),
        used: { ...percent(one.share), mark: one.share },
        top: number(one.top, "level", 2),
        left: { ...number(one.freeboard, "length"), bad: one.freeboard < 0 },
        in: number(one.entering, "flow"),
        out: number(one.leaving, "flow"),
        attenuation: percent(one.entering > 0 ? 1 - one.leaving / one.entering : null),
        lag: number(one.lag, "hours"),
        half:
          one.half_drain === null
            ? { text: "not seen", sort: 1e12, note: "half had not gone when the run of its storm ended" }
            : number(one.half_drain, "hours"),
        ...(one.infiltrated === null ? {} : { soaked: number(one.infiltrated, "volume") }),
      })),
      outfalls: own(outfalls, (one) => ({
        flow: number(one.flow, "flow"),
        volume: number(one.volume, "volume"),
        ...(oneStorm ? {} : { most: stormOf(told, one.volume_storm, true) }),
      })),
      pumps: own(Object.fromEntries(Object.entries(pumps).map(([id, one]) => [id, { ...one, time: null }])), pumpCells),
    },
  };
}
