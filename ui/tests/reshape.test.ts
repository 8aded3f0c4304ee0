import { applyPatch } from "fast-json-patch";
import { describe, expect, it } from "vitest";
import { join, linkNear, split, turnRound } from "../src/document/reshape";
import type { Change } from "../src/document/store";
import type { Network } from "../src/document/types";

const shaft = (name: string, x: number, more: object = {}) => ({
  kind: "manhole",
  name,
  x,
  y: 0,
  cover: 12,
  invert: 10,
  inflows: [],
  ...more,
});
const pipe = (name: string, upstream: string, downstream: string, more: object = {}) => ({
  kind: "pipe",
  name,
  upstream,
  downstream,
  flap: false,
  length: 44,
  bends: [],
  upstream_invert: 10.4,
  downstream_invert: 10,
  entry_loss: 0.2,
  exit_loss: 0.5,
  bend_loss: 0,
  roughness: 0.013,
  barrels: 1,
  silt: 0,
  section: { shape: "circular", diameter: 0.3 },
  ...more,
});
const make = (links: Record<string, object>, nodes: Record<string, object> = {}) =>
  ({
    nodes: { a: shaft("A", 0), b: shaft("B", 40), c: shaft("C", 80), ...nodes },
    links,
    catchments: { r: { name: "Roof", area: 100, impervious: 1, node: "b", time_of_entry: null, polygon: [] } },
  }) as unknown as Network;
const applied = (network: Network, changes: Change[]) =>
  applyPatch({ network } as never, structuredClone(changes) as never, true, false).newDocument as unknown as {
    network: Network;
  };

describe("a node set on a conduit", () => {
  const network = make({ p: pipe("A–B", "a", "b", { flap: true }) });
  it("finds the conduit beneath a click, not its ends", () => {
    expect(linkNear(network, 10, 1.5, 2)).toEqual({ id: "p", share: 0.25 });
    expect(linkNear(network, 10, 2.5, 2)).toBeNull();
    expect(linkNear(network, 0.1, 0, 2)).toBeNull();
  });
  it("cuts it in two that add up", () => {
    const ids = ["n", "q"];
    const cut = split(
      network,
      "/network",
      { id: "p", share: 0.25 },
      { kind: "manhole", name: "N" },
      () => ids.shift() ?? "",
    );
    const { nodes, links } = applied(network, cut.changes).network;
    expect(nodes.n).toMatchObject({ x: 10, y: 0, invert: 10.3 });
    expect(links.p).toMatchObject({ name: "A–N", upstream: "a", downstream: "n", length: 11, upstream_invert: 10.4 });
    expect(links.p).toMatchObject({ downstream_invert: 10.3, entry_loss: 0.2, exit_loss: null, flap: false });
    expect(links.q).toMatchObject({ name: "N–B", upstream: "n", downstream: "b", length: 33, upstream_invert: 10.3 });
    expect(links.q).toMatchObject({ downstream_invert: 10, entry_loss: 0, exit_loss: 0.5, flap: true });
  });
  it("shares out the bed of a channel", () => {
    const bed = [
      { chainage: 11, level: 10.1 },
      { chainage: 33, level: 10.2 },
    ];
    const ditch = make({ p: pipe("ditch", "a", "b", { kind: "channel", bed }) });
    const ids = ["n", "q"];
    const cut = split(
      ditch,
      "/network",
      { id: "p", share: 0.5 },
      { kind: "junction", name: "N" },
      () => ids.shift() ?? "",
    );
    const { nodes, links } = applied(ditch, cut.changes).network;
    expect(nodes.n).toMatchObject({ invert: 10.15 });
    expect(links.p).toMatchObject({ name: "ditch", bed: [{ chainage: 11, level: 10.1 }] });
    expect(links.q).toMatchObject({ bed: [{ chainage: 11, level: 10.2 }] });
  });
});

describe("a link turned round", () => {
  it("takes its levels and losses along, and twice is as before", () => {
    const network = make({ p: pipe("A–B", "a", "b") });
    const once = applied(network, turnRound(network, "/network", "p")).network;
    expect(once.links.p).toMatchObject({ name: "B–A", upstream: "b", upstream_invert: 10, entry_loss: 0.5 });
    expect(applied(once, turnRound(once, "/network", "p")).network).toEqual(network);
  });
});

describe("a node taken out of a run", () => {
  it("leaves one pipe, and its catchments drain on", () => {
    const network = make({ p: pipe("A–B", "a", "b"), q: pipe("B–C", "b", "c", { downstream_invert: 9.5 }) });
    const { nodes, links, catchments } = applied(network, join(network, "/network", "b") ?? []).network;
    expect(Object.keys(nodes)).toEqual(["a", "c"]);
    expect(Object.keys(links)).toEqual(["p"]);
    expect(links.p).toMatchObject({ name: "A–C", downstream: "c", length: 88, downstream_invert: 9.5 });
    expect(catchments.r).toMatchObject({ node: "c" });
  });
  it("sends catchments up where an outfall follows", () => {
    const end = { c: { kind: "outfall", name: "C", x: 80, y: 0, invert: 9 } };
    const network = make({ p: pipe("A–B", "a", "b"), q: pipe("B–C", "b", "c") }, end);
    expect(applied(network, join(network, "/network", "b") ?? []).network.catchments.r).toMatchObject({ node: "a" });
  });
  it("is not offered where pipes differ, meet, or something enters", () => {
    const larger = { section: { shape: "circular", diameter: 0.45 } };
    const two = { p: pipe("A–B", "a", "b"), q: pipe("B–C", "b", "c") };
    expect(join(make({ ...two, q: pipe("B–C", "b", "c", larger) }), "/network", "b")).toBeNull();
    expect(join(make({ ...two, s: pipe("S", "c", "b") }), "/network", "b")).toBeNull();
    expect(
      join(make(two, { b: shaft("B", 40, { inflows: [{ kind: "constant", flow: 1 }] }) }), "/network", "b"),
    ).toBeNull();
    expect(join(make({ p: pipe("A–B", "a", "b"), q: pipe("B–A", "b", "a") }), "/network", "b")).toBeNull();
    expect(join(make(two), "/network", "a")).toBeNull();
  });
});
