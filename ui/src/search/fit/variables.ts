import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import { isStore, type Network } from "../../document/types";
import { type Quantity, show, unitOf } from "../../document/units";

export type Changeable = components["schemas"]["ChangeableOut"];
export type FittedOut = components["schemas"]["FittedOut"];
export type Step = components["schemas"]["StepOut"];
export type Least = components["schemas"]["FitIn"]["least"];
/** A figure that may change, and whether it does. */
export type Choice = Changeable & { on: boolean };

export const QUANTITY: Record<Changeable["what"], Quantity> = {
  area: "plain",
  flow: "plain",
  depth: "length",
  slope: "slope",
  size: "diameter",
  level: "level",
  length: "length",
};

/** A figure as it is read: areas and curves by what they are multiplied with. */
export const figureOf = (what: Changeable["what"], value: number) =>
  what === "area" || what === "flow" ? `× ${show(value, "third")}` : show(value, QUANTITY[what]);
export const unitOfFigure = (what: Changeable["what"]) =>
  what === "area" || what === "flow" ? "" : unitOf(QUANTITY[what]);

/** Every figure of the option that a fit may change. */
export function useChangeable(): Changeable[] | null {
  const { id, option, revision } = useProject();
  const { data } = useQuery({
    queryKey: ["changeable", id, option, revision],
    enabled: !!id,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/changeable", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ) as Promise<Changeable[]>,
  });
  return data ?? null;
}

/** The elements that a fit begins with: stores with the controls that leave them, controls with the store above. */
export function beginWith(network: Network, elements: string[]): string[] {
  const found = new Set<string>();
  for (const id of elements) {
    const link = network.links[id];
    if (isStore(network.nodes[id])) {
      found.add(id);
      for (const [key, one] of Object.entries(network.links)) if (one.upstream === id) found.add(key);
    } else if (link) {
      if (isStore(network.nodes[link.upstream])) found.add(link.upstream);
      found.add(id);
    }
  }
  return [...found];
}

/** Their figures: the area of stores that were picked, and the size of controls that were, or that leave one of them. */
export function chosenOf(network: Network, all: Changeable[], elements: string[]): Choice[] {
  const shown = beginWith(network, elements);
  const lets = (id: string) => all.some((one) => one.element === id && (one.what === "size" || one.what === "flow"));
  const picked = new Set(elements);
  const first = new Set<string>(); // of a store the lowest control lets its water out, the others spill
  for (const id of elements)
    if (isStore(network.nodes[id])) {
      const leaving = shown.filter((key) => network.links[key]?.upstream === id && lets(key));
      if (leaving[0]) first.add(leaving[0]);
    }
  return shown.flatMap((id) =>
    all
      .filter((one) => one.element === id)
      .map((one) => ({
        ...one,
        on:
          (picked.has(id) && (one.what === "area" || one.what === "size" || one.what === "flow")) ||
          (first.has(id) && (one.what === "size" || one.what === "flow")),
      })),
  );
}
