import { useState } from "react";
import { jointsOf } from "../document/joints";
import { goesAlso } from "../document/selection";
import { useProject } from "../document/store";
import type { Edit } from "../document/types";
import { becomes } from "../kinds";

type DrawnKind = Extract<Edit, { edit: "change kind" }>["drawn"];

/** Name and kind of the picked element; its name can be changed, and it can be removed with what hangs on it. */
export function Title({ id, name, kind, note }: { id: string; name: string; kind: string; note: string }) {
  const { network, optionPath, edit, apply, point } = useProject();
  const [naming, setNaming] = useState(false);
  if (!network) return null;
  const collection = network.links[id] ? "links" : "nodes";
  const also = goesAlso(network, new Set([id]));
  const { into, out } = jointsOf(network);
  const between = into.get(id)?.length === 1 && out.get(id)?.length === 1;
  const rename = (text: string) => {
    setNaming(false);
    if (text.trim() && text.trim() !== name)
      void edit([{ op: "replace", path: `${optionPath}/${collection}/${id}/name`, value: text.trim() }]);
  };
  return (
    <header className="mb-2 border-b border-rule pb-1">
      <div className="flex items-baseline gap-2">
        <h2 className="text-[15px] font-semibold" data-testid="inspector-title">
          {kind}{" "}
          {naming ? (
            <input
              className="field !w-[110px] !text-left"
              defaultValue={name}
              aria-label="name"
              // biome-ignore lint/a11y/noAutofocus: the user has just asked to type here
              autoFocus
              onBlur={(event) => rename(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Enter") rename(event.currentTarget.value);
                if (event.key === "Escape") setNaming(false);
              }}
            />
          ) : (
            <button type="button" title="rename" onClick={() => setNaming(true)}>
              {name}
            </button>
          )}
        </h2>
        <button
          type="button"
          className="textlink ml-auto text-[11px]"
          title={also.length ? `takes ${also.join(", ")} with it` : undefined}
          data-testid="remove-element"
          onClick={() => {
            void apply([{ edit: "remove", elements: [id] }]);
            point({ element: null });
          }}
        >
          remove{also.length ? ` with ${also.length} link${also.length > 1 ? "s" : ""}` : ""}
        </button>
      </div>
      <p className="flex gap-3 text-[11px] text-ink2">
        <span className="mr-auto">{note}</span>
        <select
          className="max-w-[92px] bg-transparent underline"
          aria-label={`${name} becomes`}
          title="another kind where it stands; what both kinds have stays"
          value=""
          onChange={(event) =>
            void apply([{ edit: "change kind", element: id, drawn: event.target.value as DrawnKind }])
          }
          data-testid="change-kind"
        >
          <option value="" disabled>
            becomes …
          </option>
          {becomes(network.nodes[id] ?? network.links[id]).map(([drawn, label]) => (
            <option key={drawn} value={drawn}>
              {label}
            </option>
          ))}
        </select>
        {collection === "links" && (
          <button
            type="button"
            className="textlink"
            title="its ends change places, with their levels and losses"
            data-testid="turn-round"
            onClick={() => apply([{ edit: "turn round", link: id }])}
          >
            turn round
          </button>
        )}
        {between && (
          <button
            type="button"
            className="textlink"
            title="one pipe runs on where two met; catchments drain to the next node"
            data-testid="join-pipes"
            onClick={async () => {
              await apply([{ edit: "join", node: id }]);
              const { network, cursor } = useProject.getState();
              if (cursor.element === id && !network?.nodes[id]) point({ element: null });
            }}
          >
            take out, join its pipes
          </button>
        )}
      </p>
    </header>
  );
}
