import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useProject } from "../../document/store";

/** Graphs that were kept under a name; one click draws them again. */
export function KeptGraphs({ elements, suggested }: { elements: string[]; suggested: string }) {
  const { project, network, graph, edit, pickAll, drawGraph } = useProject();
  const [naming, setNaming] = useState<string | null>(null);
  if (!project || !network) return null;
  const keep = () => {
    const name = (naming ?? "").trim().slice(0, 80);
    setNaming(null);
    if (name) void edit([{ op: "add", path: "/graphs/-", value: { name, elements, ...graph } }]);
  };
  if (naming !== null)
    return (
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <input
          // biome-ignore lint/a11y/noAutofocus: the field has just been asked for
          autoFocus
          className="field !w-40 !text-left"
          aria-label="name of the graph"
          value={naming}
          onChange={(event) => setNaming(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setNaming(null)}
          data-testid="graph-name"
        />
        <button type="submit" className="textlink">
          keep
        </button>
      </form>
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="textlink" data-testid="kept-graphs">
        kept{project.graphs.length ? ` ${project.graphs.length}` : ""}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="z-50 min-w-56 border border-ink bg-hi py-1" align="end">
          {elements.length > 0 && (
            <DropdownMenu.Item
              className="cursor-pointer px-3 py-[3px] font-semibold outline-none data-[highlighted]:bg-lo"
              onSelect={() => setNaming(suggested)}
              data-testid="keep-graph"
            >
              keep this graph
            </DropdownMenu.Item>
          )}
          {project.graphs.map((kept, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: kept in the order in which they came, without ids
            <div key={i} className="flex items-center">
              <DropdownMenu.Item
                className="min-w-0 flex-1 cursor-pointer truncate px-3 py-[3px] outline-none data-[highlighted]:bg-lo"
                onSelect={() => {
                  pickAll(kept.elements.filter((id) => network.nodes[id] || network.links[id]));
                  drawGraph({ quantities: kept.quantities, storms: kept.storms, against: kept.against });
                }}
                data-testid={`graph-${i}`}
              >
                {kept.name}
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className="cursor-pointer px-2 text-ink3 outline-none data-[highlighted]:bg-lo"
                aria-label={`forget ${kept.name}`}
                onSelect={() => void edit([{ op: "remove", path: `/graphs/${i}` }])}
              >
                ×
              </DropdownMenu.Item>
            </div>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
