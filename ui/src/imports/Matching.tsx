import type { components } from "../api/schema";
import type { Mappings } from "../document/types";
import { DRAWN_LINKS, DRAWN_NODES } from "../kinds";

export type Look = components["schemas"]["Look"];
type Sheet = components["schemas"]["SheetLook"];

const LINES = ["pipe", "channel", "trench", "catchment"];
const BLOCKS = ["manhole", "junction", "inlet", "outfall"];
const spoken: Record<string, string> = {
  ...DRAWN_NODES,
  ...DRAWN_LINKS,
  storage: "Pond or tank",
  catchment: "Catchment",
};
const choice = "border-b border-ink3 bg-transparent";

/** The mapping that a look at a file proposes. */
export const proposed = (look: Look): Mappings => ({
  tables: look.sheets?.map((sheet) => sheet.mapping as Mappings["tables"][number]) ?? [],
  layers: look.drawing?.mapping.layers ?? {},
  blocks: look.drawing?.mapping.blocks ?? {},
  structures: look.structures ?? {},
  network_types: look.network_types ?? {},
  files: {},
});

/** What is kept of how files were read: this time's answers before older ones. */
export function kept(before: Mappings, now: Mappings): Mappings {
  const same = (a: string[], b: string[]) => JSON.stringify(a) === JSON.stringify(b);
  return {
    tables: [
      ...now.tables,
      ...before.tables.filter((old) => !now.tables.some((table) => same(table.headings, old.headings))),
    ].slice(0, 100),
    layers: { ...before.layers, ...now.layers },
    blocks: { ...before.blocks, ...now.blocks },
    structures: { ...before.structures, ...now.structures },
    network_types: { ...before.network_types, ...now.network_types },
    files: { ...before.files, ...now.files },
  };
}

/** Which column, layer, block, structure or pipe network of a file stands for what. */
export function Matching({
  look,
  mapping,
  change,
}: {
  look: Look;
  mapping: Mappings;
  change: (mapping: Mappings) => void;
}) {
  return (
    <div className="flex flex-col gap-3 pt-3" data-testid="matching">
      {look.sheets?.map((sheet, k) => (
        <SheetMatch
          key={sheet.sheet}
          look={look}
          sheet={sheet}
          mapping={mapping.tables[k] as Mappings["tables"][number]}
          change={(table) => change({ ...mapping, tables: mapping.tables.map((old, i) => (i === k ? table : old)) })}
        />
      ))}
      {look.drawing && (
        <div className="grid grid-cols-2 gap-8">
          <Kinds
            title="Lines by layer"
            counts={look.drawing.layers}
            kinds={LINES}
            chosen={mapping.layers}
            change={(layers) => change({ ...mapping, layers })}
          />
          <Kinds
            title="Blocks by name"
            counts={look.drawing.blocks}
            kinds={BLOCKS}
            chosen={mapping.blocks}
            change={(blocks) => change({ ...mapping, blocks })}
          />
          <p className="col-span-2 text-[11px] text-ink3">
            Units of the drawing: {look.drawing.units}. Ends of lines within 0.5 m of a node join it; others get a
            manhole. Levels come from the drawing where it has any.
          </p>
        </div>
      )}
      {(look.networks?.length ?? 0) > 0 && (
        <Networks
          look={look}
          chosen={mapping.network_types}
          change={(network_types) => change({ ...mapping, network_types })}
        />
      )}
      {Object.keys(look.structures ?? {}).length > 0 && (
        <details>
          <summary className="text-ink2">Structures of LandXML by type and part</summary>
          <Kinds
            title="Structures"
            counts={{
              ...Object.fromEntries(Object.keys(look.structures ?? {}).map((type) => [type, 0])),
              ...look.parts,
            }}
            kinds={BLOCKS}
            chosen={mapping.structures}
            change={(structures) => change({ ...mapping, structures })}
          />
        </details>
      )}
    </div>
  );
}

/** The pipe networks of a LandXML file, and which types of them are storm drainage. */
function Networks({
  look,
  chosen,
  change,
}: {
  look: Look;
  chosen: Record<string, string>;
  change: (chosen: Record<string, string>) => void;
}) {
  return (
    <table className="w-full text-left" data-testid="pipe-networks">
      <thead className="text-[11px] text-ink3">
        <tr className="border-b border-rule2">
          <th className="font-normal">pipe network</th>
          <th className="w-28 text-right font-normal">structures</th>
          <th className="w-24 text-right font-normal">pipes</th>
          <th className="w-32 pl-6 font-normal">type</th>
          <th className="w-56 font-normal">networks of this type are</th>
        </tr>
      </thead>
      <tbody>
        {look.networks?.map((network, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: names may come twice
          <tr key={k} className="border-b border-rule">
            <td className="font-semibold">{network.name}</td>
            <td className="figure text-right">{network.structures}</td>
            <td className="figure text-right">{network.pipes}</td>
            <td className="pl-6">{network.type}</td>
            <td>
              <select
                className={choice}
                aria-label={`networks of type ${network.type} are`}
                value={chosen[network.type] ?? ""}
                onChange={(event) => change({ ...chosen, [network.type]: event.target.value })}
                data-testid={`network-type-${network.type}`}
              >
                <option value="storm">storm drainage, imported</option>
                <option value="">left out</option>
              </select>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function SheetMatch({
  look,
  sheet,
  mapping,
  change,
}: {
  look: Look;
  sheet: Sheet;
  mapping: Mappings["tables"][number];
  change: (mapping: Mappings["tables"][number]) => void;
}) {
  const fields = look.fields?.[mapping.kind] ?? {};
  const set = (heading: string, field: string, unit: string) =>
    change({ ...mapping, columns: { ...mapping.columns, [heading]: { field, unit } } });
  return (
    <section aria-label={`table ${sheet.sheet}`} data-testid={`sheet-${sheet.sheet}`}>
      <p className="flex items-baseline gap-3">
        <b className="font-semibold">{sheet.sheet}</b>
        <span className="text-ink3">{sheet.rows} rows, each a</span>
        <select
          className={choice}
          aria-label={`kind of ${sheet.sheet}`}
          value={mapping.kind}
          onChange={(event) => change({ ...mapping, kind: event.target.value })}
          data-testid="sheet-kind"
        >
          <option value="">left out</option>
          {Object.keys(look.fields ?? {}).map((kind) => (
            <option key={kind} value={kind}>
              {(spoken[kind] ?? kind).toLowerCase()}
            </option>
          ))}
        </select>
        {sheet.known && <span className="text-ink3">read as last time</span>}
      </p>
      {mapping.kind && (
        <table className="mt-1 w-full text-left">
          <thead className="text-[11px] text-ink3">
            <tr className="border-b border-rule2">
              <th className="font-normal">column</th>
              <th className="font-normal">first rows</th>
              <th className="font-normal">is</th>
              <th className="font-normal">in</th>
            </tr>
          </thead>
          <tbody>
            {sheet.headings.map((heading, j) => {
              const use = mapping.columns[heading];
              const ours = use ? fields[use.field] : undefined;
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: headings may come twice
                <tr key={j} className="border-b border-rule">
                  <td className="font-semibold">{heading || "–"}</td>
                  <td className="figure max-w-60 truncate text-ink3">
                    {sheet.sample
                      .slice(0, 3)
                      .map((row) => row[j] ?? "")
                      .join("  ")}
                  </td>
                  <td>
                    <select
                      className={`${choice} ${use?.field ? "" : "text-ink3"}`}
                      aria-label={`${heading} is`}
                      value={use?.field ?? ""}
                      onChange={(event) => set(heading, event.target.value, fields[event.target.value] ?? "")}
                    >
                      <option value="">left out</option>
                      {Object.keys(fields).map((field) => (
                        <option key={field} value={field}>
                          {field.replaceAll("_", " ").replace(".", ": ")}
                        </option>
                      ))}
                    </select>
                  </td>
                  <td>
                    {ours && (
                      <select
                        className={choice}
                        aria-label={`unit of ${heading}`}
                        value={use?.unit || ours}
                        onChange={(event) => set(heading, use?.field ?? "", event.target.value)}
                      >
                        {(look.units?.[ours] ?? [ours]).map((unit) => (
                          <option key={unit}>{unit}</option>
                        ))}
                      </select>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

const AS_TYPE = "as its type";
/** A part of a type of structure follows its type where nothing else is said: 'CircStruct: Slab base'. */
const partOf = (name: string) => /^\w+: /.test(name);

function Kinds({
  title,
  counts,
  kinds,
  chosen,
  change,
}: {
  title: string;
  counts: Record<string, number>;
  kinds: string[];
  chosen: Record<string, string>;
  change: (chosen: Record<string, string>) => void;
}) {
  return (
    <section aria-label={title}>
      <b className="font-semibold">{title}</b>
      {Object.entries(counts).map(([name, count]) => (
        <label key={name} className="flex items-baseline gap-3 border-b border-rule py-[2px]">
          <span className="flex-1 truncate">{name}</span>
          {count > 0 && <span className="figure text-ink3">{count}</span>}
          <select
            className={`${choice} w-28`}
            value={chosen[name] ?? (partOf(name) ? AS_TYPE : "")}
            onChange={(event) => {
              const { [name]: _, ...others } = chosen;
              change(event.target.value === AS_TYPE ? others : { ...chosen, [name]: event.target.value });
            }}
            data-testid={`kind-${name}`}
          >
            {partOf(name) && <option value={AS_TYPE}>as its type</option>}
            <option value="">left out</option>
            {kinds.map((kind) => (
              <option key={kind} value={kind}>
                {(spoken[kind] ?? kind).toLowerCase()}
              </option>
            ))}
          </select>
        </label>
      ))}
      {Object.keys(counts).length === 0 && <p className="text-ink3">none</p>}
    </section>
  );
}
