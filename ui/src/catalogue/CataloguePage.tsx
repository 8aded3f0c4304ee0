import { Dialog } from "radix-ui";
import { useState } from "react";
import { WHOLE_INCHES } from "../document/catalogue";
import { numberIn } from "../document/numbers";
import { useProject } from "../document/store";
import type { Catalogue, Defaults } from "../document/types";
import { show, unitOf } from "../document/units";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { Page } from "../primitives/Page";
import { Rows } from "../primitives/Rows";

/** The catalogue, and what new elements are given: the project's, edited in place. */
export function CataloguePage() {
  const { project, edit } = useProject();
  if (!project) return null;
  const { catalogue, defaults } = project;
  const setPipes = (pipes: Catalogue["pipes"]) =>
    void edit([{ op: "replace", path: "/catalogue/pipes", value: pipes }]);
  const change = (k: number, part: Partial<Catalogue["pipes"][number]>) =>
    setPipes(catalogue.pipes.map((material, i) => (i === k ? { ...material, ...part } : material)));
  const set = (field: keyof Defaults) => (value: number | string) =>
    void edit([{ op: "add", path: `/defaults/${field}`, value }]);
  const fresh = () => {
    const taken = new Set(catalogue.pipes.map((p) => p.name));
    const name = ["material", ...Array.from({ length: 60 }, (_, k) => `material ${k + 2}`)].find((n) => !taken.has(n));
    setPipes([...catalogue.pipes, { name: name ?? "", roughness: 0.013, diameters: [0.15, 0.225, 0.3] }]);
  };
  return (
    <Dialog.Root>
      <Dialog.Trigger className="px-3 text-ink2 underline" data-testid="catalogue">
        Catalogue
      </Dialog.Trigger>
      <Page title="Catalogue and what new elements are given" wide={760} testId="catalogue-page">
        <div className="grid min-h-0 flex-1 grid-cols-[1fr_250px] gap-8 overflow-y-auto px-4 py-3">
          <section aria-label="Pipes">
            <h3 className="font-semibold">Pipes by material</h3>
            <p className="pb-1 text-[11px] text-ink3">
              Diameters in {unitOf("diameter")}, in rising order. A pipe keeps its own roughness and size: changing the
              list changes none.
            </p>
            {catalogue.pipes.map((material, k) => (
              <div key={material.name} className="border-t border-rule py-1" data-testid={`material-${material.name}`}>
                <div className="flex items-baseline gap-3">
                  <Text
                    label="name of the material"
                    value={material.name}
                    commit={(name) => name && change(k, { name })}
                    className="!w-32 !text-left"
                  />
                  <NumberField
                    label=""
                    value={material.roughness}
                    quantity="roughness"
                    commit={(roughness) => change(k, { roughness })}
                  />
                  {catalogue.pipes.length > 1 && (
                    <button
                      type="button"
                      className="textlink ml-auto text-[11px]"
                      onClick={() => setPipes(catalogue.pipes.filter((_, i) => i !== k))}
                    >
                      take out
                    </button>
                  )}
                </div>
                <Sizes value={material.diameters} commit={(diameters) => change(k, { diameters })} />
              </div>
            ))}
            <button type="button" className="textlink text-[11px]" onClick={fresh}>
              add a material
            </button>
            {project.units === "us" && (
              <button
                type="button"
                className="textlink ml-4 text-[11px]"
                onClick={() => setPipes(catalogue.pipes.map((material) => ({ ...material, diameters: WHOLE_INCHES })))}
                data-testid="whole-inches"
              >
                give every material the usual sizes in inches
              </button>
            )}
          </section>
          <section aria-label="Manholes and new elements">
            <Rows
              title="Manhole rings: the first that suits"
              columns={[
                { key: "largest_pipe", label: "pipe up to", quantity: "diameter" },
                { key: "deepest", label: "depth up to", quantity: "length" },
                { key: "diameter", label: "ring", quantity: "diameter" },
              ]}
              rows={catalogue.manholes}
              commit={(rows) => edit([{ op: "replace", path: "/catalogue/manholes", value: rows }])}
            />
            <h3 className="mt-3 border-t border-rule pt-1 font-semibold">A new run of pipes</h3>
            <NumberField
              label="Gradient 1 in"
              value={1 / defaults.gradient}
              quantity="count"
              commit={(value) => value > 0 && set("gradient")(1 / value)}
            />
            <NumberField
              label="Diameter at least"
              value={defaults.diameter}
              quantity="diameter"
              commit={set("diameter")}
            />
            <Choice
              label="Material"
              value={defaults.material ?? ""}
              options={Object.fromEntries([
                ...(defaults.material ? [] : [["", "not said"]]),
                ...catalogue.pipes.map((p) => [p.name, p.name]),
              ])}
              commit={(name) => {
                const roughness = catalogue.pipes.find((p) => p.name === name)?.roughness ?? defaults.roughness;
                void edit([
                  { op: "add", path: "/defaults/material", value: name },
                  { op: "add", path: "/defaults/roughness", value: roughness },
                ]);
              }}
            />
            <NumberField label="Roughness" value={defaults.roughness} quantity="roughness" commit={set("roughness")} />
            <NumberField label="Cover" value={defaults.cover} quantity="length" commit={set("cover")} />
          </section>
        </div>
      </Page>
    </Dialog.Root>
  );
}

/** A word or list that is committed by Enter or by leaving it, and taken back by Escape. */
function Text({
  label,
  value,
  commit,
  className,
  wrong,
}: {
  label: string;
  value: string;
  commit: (text: string) => void;
  className: string;
  wrong?: string | null;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const finish = () => {
    if (typed !== null && typed.trim() !== value) commit(typed.trim());
    setTyped(null);
  };
  return (
    <input
      className={`field ${className}`}
      aria-label={label}
      aria-invalid={Boolean(wrong)}
      title={wrong ?? undefined}
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        if (event.key === "Enter") finish();
        if (event.key === "Escape") {
          setTyped(null);
          event.stopPropagation();
        }
      }}
    />
  );
}

/** Diameters as one line of numbers. */
function Sizes({ value, commit }: { value: number[]; commit: (sizes: number[]) => void }) {
  const [wrong, setWrong] = useState<string | null>(null);
  const read = (text: string) => {
    const words = text.split(/[\s;,]+/).filter((word) => word !== "");
    const sizes = words.map((word) => numberIn(word, "diameter"));
    const bad = words.find((_, i) => sizes[i] === null);
    setWrong(bad === undefined ? null : `“${bad}” is no diameter; nothing was changed`);
    if (bad === undefined && sizes.length) commit([...new Set(sizes as number[])].sort((a, b) => a - b));
  };
  return (
    <>
      <Text
        label={`diameters, ${unitOf("diameter")}`}
        value={value.map((d) => show(d, "diameter")).join(" ")}
        commit={read}
        className="!w-full !text-left"
        wrong={wrong}
      />
      {wrong && (
        <p role="alert" className="text-[11px] text-madder">
          {wrong}
        </p>
      )}
    </>
  );
}
