/** The project document as the server keeps it: SI units. */
export type Section = { shape: "circular"; diameter: number } | { shape: "rectangular"; width: number; height: number };
type Placed = { name: string; x: number; y: number; invert: number };
export type Shaft = Placed & { kind: "manhole" | "junction"; cover: number; plan_area: number; ponded_area: number };
export type Storage = Placed & {
  kind: "storage";
  form: "pond" | "tank";
  cover: number;
  table: { depth: number; area: number }[];
};
export type TailWater = { kind: "free" } | { kind: "normal" } | { kind: "fixed"; level: number };
export type Outfall = Placed & { kind: "outfall"; ground: number | null; tail_water: TailWater; flap: boolean };
export type NetNode = Shaft | Storage | Outfall;
type Ends = { name: string; upstream: string; downstream: string; flap: boolean };
export type Pipe = Ends & {
  kind: "pipe";
  section: Section;
  length: number;
  upstream_invert: number;
  downstream_invert: number;
  roughness: number;
};
export type Orifice = Ends & { kind: "orifice"; invert: number; section: Section; discharge_coefficient: number };
export type Weir = Ends & { kind: "weir"; crest: number; length: number; coefficient: number };
export type NetLink = Pipe | Orifice | Weir;
export type Catchment = {
  name: string;
  area: number;
  impervious: number;
  node: string | null;
  time_of_entry: number | null;
  polygon: [number, number][];
};
export type Network = {
  nodes: Record<string, NetNode>;
  links: Record<string, NetLink>;
  catchments: Record<string, Catchment>;
};
export type Criterion = {
  kind: "surcharge" | "cover" | "flood_volume" | "outflow" | "freeboard";
  name: string;
  asked: boolean;
  return_period: number;
  allowance: number;
  clearance?: number;
  limit?: number;
  element?: string;
};
export type Rainfall =
  | { kind: "table"; durations: number[]; return_periods: number[]; depths: number[][]; source: string }
  | { kind: "formula"; rows: { return_period: number; a: number; b: number; c: number }[]; source: string };
export type Season = {
  name: "summer" | "winter" | "all year";
  shape: { kind: "bell"; a: number; b: number } | { kind: "block" };
};
/** Durations in min, return periods in years. */
export type Ensemble = {
  durations: number[];
  probabilities: { return_period: number; allowance: number }[];
  seasons: Season[];
};
export type Runoff = {
  summer_paved: number;
  winter_paved: number;
  summer_green: number;
  winter_green: number;
  creep: number;
  time_of_entry: number;
};
export type Backdrop = {
  kind: "water" | "building" | "boundary" | "paving" | "path";
  name: string;
  points: [number, number][];
};
export type Project = {
  name: string;
  brief: { author: string; client: string; criteria: Criterion[] };
  rain: { rainfall: Rainfall | null; place: string | null; ensemble: Ensemble; runoff: Runoff };
  options: Record<string, { name: string; network: Network }>;
  backdrop: Backdrop[];
};

/** The option that is shown and run: the first by name. */
export function shownOption(project: Project): { id: string; name: string; network: Network } {
  const [id, option] = Object.entries(project.options).sort((a, b) => (a[1].name < b[1].name ? -1 : 1))[0] as [
    string,
    { name: string; network: Network },
  ];
  return { id, ...option };
}

export const heightOf = (section: Section) => (section.shape === "circular" ? section.diameter : section.height);
export const topOf = (node: NetNode) => (node.kind === "outfall" ? (node.ground ?? node.invert + 1) : node.cover);
