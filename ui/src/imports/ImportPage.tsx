import { Dialog } from "radix-ui";
import { type DragEvent, useState } from "react";
import { Page } from "../primitives/Page";
import { Comparing, type Source } from "./Comparing";

const FORMS: [RegExp, string][] = [
  [/\.(geo)?json$/i, "geojson"],
  [/\.(xlsx|csv|txt)$/i, "table"],
  [/\.dxf$/i, "dxf"],
  [/\.(land)?xml$/i, "landxml"],
];
const formOf = (name: string) => FORMS.find(([ending]) => ending.test(name))?.[1];

/** A file of another program, compared with what is here. */
export function ImportPage() {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<{ name: string; source: Source | null; time: number } | null>(null);
  const choose = (file: File | undefined) => {
    if (!file) return;
    const form = formOf(file.name);
    setChosen({ name: file.name, source: form ? { file, form } : null, time: (chosen?.time ?? 0) + 1 });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    choose(event.dataTransfer.files[0]);
  };
  const turn = (to: boolean) => {
    setOpen(to);
    if (!to) setChosen(null);
  };
  const head = (
    <p className="flex items-baseline gap-3">
      <label className="cursor-pointer whitespace-nowrap border border-ink px-3 py-1 font-semibold focus-within:outline">
        Choose a file
        <input
          type="file"
          accept=".xml,.landxml,.geojson,.json,.csv,.txt,.xlsx,.dxf"
          className="sr-only"
          data-testid="import-file"
          onChange={(event) => choose(event.target.files?.[0])}
        />
      </label>
      <span className="text-ink3">
        or drop it here: LandXML 1.2, GeoJSON in the project’s grid, tables (CSV, XLSX), DXF. Elements are recognised by
        id, then by name, then by place. Nothing changes before you apply.
      </span>
    </p>
  );
  return (
    <Dialog.Root open={open} onOpenChange={turn}>
      <Dialog.Trigger
        className="ml-2 shrink-0 whitespace-nowrap border-l border-rule2 pl-3 font-semibold underline"
        data-testid="import"
      >
        Import a file
      </Dialog.Trigger>
      <Page
        title={`Import a network${chosen ? `: ${chosen.name}` : ""}`}
        wide={920}
        testId="import-page"
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
      >
        <div className="px-4 pt-3">{head}</div>
        {chosen?.source && <Comparing key={chosen.time} source={chosen.source} done={() => turn(false)} />}
        {chosen && !chosen.source && (
          <p className="px-4 py-3 text-madder" role="alert" data-testid="import-wrong">
            its name does not tell its format; let it end in .xml, .geojson, .csv, .xlsx or .dxf
          </p>
        )}
        {!chosen && <div className="pb-3" />}
      </Page>
    </Dialog.Root>
  );
}
