import { useRef, useState } from "react";
import { useProject } from "../document/store";
import type { ReportLayout } from "../document/types";
import { NameForm } from "../primitives/NameForm";

/** Which of the project's layouts is shown; copied, renamed, removed, saved as a file and taken from one. */
export function Layouts({ place, show }: { place: number; show: (place: number) => void }) {
  const { project, edit } = useProject();
  const [naming, setNaming] = useState<"copy" | "rename" | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const layouts = project?.layouts ?? [];
  const shown = layouts[place];
  const add = async (layout: ReportLayout) => {
    await edit([{ op: "add", path: "/layouts/-", value: layout }]);
    show(layouts.length);
  };
  const free = (name: string) => {
    let found = name;
    for (let n = 2; layouts.some((one) => one.name === found); n += 1) found = `${name} ${n}`;
    return found;
  };
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const found = JSON.parse(await chosen.text());
      if (found?.format !== "madidus-layout" || typeof found.layout?.name !== "string")
        throw new Error(`${chosen.name} is no layout; choose a *.layout.json that was saved here`);
      setWrong(null);
      await add({ ...found.layout, name: free(found.layout.name) });
    } catch (error) {
      setWrong(error instanceof SyntaxError ? `${chosen.name} cannot be read` : String((error as Error).message));
    }
  };
  const save = () => {
    if (!shown) return;
    const text = JSON.stringify({ format: "madidus-layout", version: 1, layout: shown }, null, 1);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = `${shown.name.toLowerCase().replace(/[^a-z0-9]+/g, "_")}.layout.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  if (naming && shown)
    return (
      <NameForm
        suggested={naming === "copy" ? free(shown.name) : shown.name}
        label="name of the layout"
        keep={(name) =>
          void (naming === "copy"
            ? add({ ...shown, name: free(name) })
            : edit([{ op: "replace", path: `/layouts/${place}/name`, value: name }]))
        }
        leave={() => setNaming(null)}
        testId="layout-name"
      />
    );
  return (
    <div>
      <select
        className="w-full border border-rule2 bg-hi px-1 py-[3px] font-semibold"
        value={place}
        onChange={(event) => show(Number(event.target.value))}
        aria-label="layout"
        data-testid="layout"
      >
        {layouts.map((one, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: layouts stand in their order, without ids
          <option key={k} value={k}>
            {one.name}
          </option>
        ))}
      </select>
      <p className="flex gap-3 pt-1">
        <button type="button" className="textlink" onClick={() => setNaming("copy")} data-testid="layout-copy">
          copy
        </button>
        <button type="button" className="textlink" onClick={() => setNaming("rename")}>
          rename
        </button>
        <button type="button" className="textlink" onClick={save} data-testid="layout-save">
          save
        </button>
        <button type="button" className="textlink" onClick={() => file.current?.click()}>
          open
        </button>
        <input
          ref={file}
          type="file"
          accept=".json"
          className="sr-only"
          tabIndex={-1}
          aria-label="layout from a file"
          data-testid="layout-open"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <button
          type="button"
          className="textlink"
          disabled={layouts.length < 2}
          onClick={() => {
            void edit([{ op: "remove", path: `/layouts/${place}` }]);
            show(Math.max(place - 1, 0));
          }}
          data-testid="layout-remove"
        >
          remove
        </button>
      </p>
      {wrong && (
        <p className="pt-1 text-madder" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
