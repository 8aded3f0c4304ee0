import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";
import { type Basin, drawnAs, outlineOf, type Storage } from "../document/types";
import { type Quantity, show, unitOf } from "../document/units";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";

type Given = components["schemas"]["DimensionsIn"];
type Found = components["schemas"]["DimensionsOut"];
type Unknown = Given["unknown"];

/** What a store is now, as a rectangle or over the outline that it has. */
export function dimensionsOf(store: Storage | Basin): Given {
  const depth = Math.max(store.cover - store.invert, 0.01);
  if (store.kind === "basin")
    return {
      at: drawnAs(store) === "base" ? "base" : "top",
      length: 1,
      width: 1,
      ring: outlineOf(store),
      slope: store.side_slope,
      depth,
      volume: 1,
      unknown: "volume",
    };
  const floor = Math.sqrt(store.table[0]?.area ?? 1);
  const top = Math.sqrt(store.table.at(-1)?.area ?? 1);
  const slope = Math.max((top - floor) / 2 / Math.max(store.table.at(-1)?.depth ?? depth, 0.01), 0);
  const side = Number(floor.toFixed(2));
  return {
    at: "base",
    length: side,
    width: side,
    ring: null,
    slope: store.form === "tank" ? 0 : Number(slope.toFixed(2)),
    depth,
    volume: 1,
    unknown: "volume",
  };
}

/** A store from length, width, side slope, depth and volume: whichever is not known follows from the others. */
export function Dimensions({ id, store }: { id: string; store: Storage | Basin }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="textlink text-[11px]" data-testid="by-dimensions">
        by dimensions
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          className="z-20 w-[290px] border border-ink bg-hi p-3"
          aria-label="The store by its dimensions"
          data-testid="dimensions"
        >
          <Sheet id={id} store={store} done={() => setOpen(false)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const SOLVED: Record<Unknown, string> = { volume: "volume", area: "area", slope: "side slope", depth: "depth" };

function Sheet({ id, store, done }: { id: string; store: Storage | Basin; done: () => void }) {
  const { id: project_id, edit, optionPath } = useProject();
  const [given, setGiven] = useState(() => dimensionsOf(store));
  const { data, error } = useQuery({
    queryKey: ["dimensions", given],
    placeholderData: (old) => old,
    retry: false,
    queryFn: () =>
      call(
        api.POST("/api/projects/{project_id}/stores/dimensions", {
          params: { path: { project_id: project_id ?? "" } },
          body: given,
        }),
      ) as Promise<Found>,
  });
  const { unknown } = given;
  const found = error ? null : (data ?? null);
  const set = (part: Partial<Given>) => setGiven({ ...given, ...part });
  // what was solved is what is given from then on, so that another one may be asked for
  const ask = (next: Unknown) => {
    if (!found) return set({ unknown: next });
    const { slope, depth, volume, scale } = found;
    const ring = given.ring ? scaled(given.ring as [number, number][], scale) : null;
    set({ length: given.length * scale, width: given.width * scale, ring, slope, depth, volume, unknown: next });
  };
  const line = (
    label: string,
    of: Unknown,
    quantity: Quantity,
    now: number,
    solved: number | undefined,
    key: keyof Given,
  ) =>
    unknown === of ? (
      <p className="flex items-center justify-between gap-2 py-[3px] font-semibold" data-testid={`solved-${of}`}>
        {label}
        <span className="figure">
          {show(solved, quantity)} <span className="text-[11px] text-ink3">{unitOf(quantity)}</span>
        </span>
      </p>
    ) : (
      <NumberField
        label={label}
        value={now}
        quantity={quantity}
        commit={(value) => set({ [key]: value })}
        testId={`dimension-${key}`}
      />
    );
  const scale = found && unknown === "area" ? found.scale : 1;
  const apply = () => {
    if (!found) return;
    const at = `${optionPath}/nodes/${id}`;
    const cover = { op: "replace" as const, path: `${at}/cover`, value: store.invert + found.depth };
    const table = found.table.map(([depth = 0, area = 0]) => ({ depth, area }));
    const shape =
      store.kind === "basin"
        ? [
            { op: "replace" as const, path: `${at}/side_slope`, value: found.slope },
            {
              op: "replace" as const,
              path: `${at}/${drawnAs(store)}`,
              value: scaled((given.ring ?? outlineOf(store)) as [number, number][], scale),
            },
          ]
        : [{ op: "replace" as const, path: `${at}/table`, value: table }];
    void edit([cover, ...shape]).then(done);
  };
  return (
    <>
      <Choice
        label="Solve for"
        value={unknown}
        options={SOLVED}
        commit={(next) => ask(next as Unknown)}
        testId="solve-for"
      />
      {store.kind === "storage" && (
        <Choice
          label="Length and width"
          value={given.at}
          options={{ base: "of the base", top: "of the top" }}
          commit={(at) => set({ at: at as Given["at"] })}
          testId="dimension-at"
        />
      )}
      {store.kind === "storage" && (
        <>
          {line("Length", "area", "length", given.length, given.length * scale, "length")}
          {line("Width", "area", "length", given.width, given.width * scale, "width")}
        </>
      )}
      {store.kind === "basin" && unknown === "area" && (
        <p className="flex justify-between py-[3px] font-semibold" data-testid="solved-area">
          Outline, times
          <span className="figure">{scale.toFixed(3)}</span>
        </p>
      )}
      {line("Side slope", "slope", "slope", given.slope, found?.slope, "slope")}
      {line("Depth", "depth", "length", given.depth, found?.depth, "depth")}
      {line("Volume", "volume", "volume", given.volume, found?.volume, "volume")}
      {found && (
        <p className="border-t border-rule pt-1 text-[11px] text-ink2">
          base {show(found.base, "area")}, top {show(found.top, "area")} {unitOf("area")}; bank at{" "}
          {show(store.invert + found.depth, "level")} {unitOf("level")}
        </p>
      )}
      {error && (
        <p role="alert" className="pt-1 text-[11px] text-madder" data-testid="dimensions-wrong">
          {error.message}
        </p>
      )}
      <p className="flex justify-end gap-3 pt-2">
        <button
          type="button"
          className="bg-ink px-3 py-1 font-semibold text-hi disabled:opacity-40"
          disabled={!found}
          onClick={apply}
          data-testid="dimensions-apply"
        >
          Take it
        </button>
      </p>
    </>
  );
}

/** A ring larger by a factor about its middle. */
export function scaled(ring: [number, number][], factor: number): [number, number][] {
  const mean = (k: 0 | 1) => ring.reduce((sum, corner) => sum + corner[k], 0) / ring.length;
  const [cx, cy] = [mean(0), mean(1)];
  return ring.map(([x, y]) => [
    Number((cx + factor * (x - cx)).toFixed(3)),
    Number((cy + factor * (y - cy)).toFixed(3)),
  ]);
}
