import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { type ChangeEvent, useRef, useState } from "react";
import { api, call } from "../../api/client";
import { useProject } from "../../document/store";
import type { Network, Project, Rule, Scope } from "../../document/types";
import { save } from "../../views/graphs/out";

/** A file of rules as one that fits this project: places that are not here become its first outfall, scopes all. */
export function fitted(rules: Rule[], network: Network): Rule[] {
  const known = (id: string) => id in network.nodes || id in network.links;
  const outfall = Object.keys(network.nodes).find((id) => network.nodes[id]?.kind === "outfall");
  const all: Scope = { of: "all", elements: [], selection: "", reason: "" };
  return rules.flatMap((rule): Rule[] => {
    const scope = rule.scope ?? all;
    const own = scope.elements.every(known) && !scope.selection;
    const kept: Rule = own ? rule : { ...rule, scope: all };
    if (!("element" in kept) || known(kept.element)) return [kept];
    return outfall ? [{ ...kept, element: outfall }] : [];
  });
}

/** What is kept of the rules as a file of one's own. */
export const asFile = (project: Project, name: string) =>
  `${JSON.stringify({ format: "madidus-rules", version: 1, name, units: project.units, rules: project.brief.rules }, null, 1)}\n`;

/** Rules to begin with: those that come with the program, or a file of one's own. */
export function StartingSets() {
  const { id, option, project, network, revision, edit, say } = useProject();
  const [open, setOpen] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const { data } = useQuery({
    queryKey: ["rule-sets", id, option, revision],
    enabled: !!id && open,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/rule-sets", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ),
  });
  if (!project || !network) return null;
  const take = (rules: Rule[], how: "add" | "replace") => {
    const own = fitted(rules, network);
    const value = how === "add" ? [...project.brief.rules, ...own] : own;
    setOpen(false);
    void edit([{ op: "replace", path: "/brief/rules", value }]);
  };
  const read = async (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    event.target.value = "";
    if (!chosen) return;
    try {
      const found = JSON.parse(await chosen.text());
      if (found?.format !== "madidus-rules" || !Array.isArray(found.rules))
        throw new Error(`${chosen.name} is no file of rules; choose one that was kept here`);
      take(found.rules, "replace");
    } catch (error) {
      say(error instanceof SyntaxError ? new Error(`${chosen.name} is no file of rules: it is not JSON`) : error);
    }
  };
  const sets = [...(data ?? [])].sort((a) => (a.units === project.units ? -1 : 1));
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="textlink" data-testid="starting-sets">
        starting sets
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" className="z-30 w-[360px] border border-ink bg-hi p-3" sideOffset={4}>
          <b className="font-semibold">Rules to begin with</b>
          {sets.map((set) => (
            <p key={set.name} className="flex items-baseline gap-3 border-b border-rule py-1">
              <span className="flex-1">
                {set.name} <span className="text-ink3">{set.rules.length} rules</span>
              </span>
              <button type="button" className="textlink" onClick={() => take(set.rules, "replace")}>
                take
              </button>
              <button type="button" className="textlink" onClick={() => take(set.rules, "add")}>
                add
              </button>
            </p>
          ))}
          <p className="flex gap-4 pt-2">
            <button type="button" className="textlink" onClick={() => file.current?.click()}>
              take a file
            </button>
            <button
              type="button"
              className="textlink"
              disabled={project.brief.rules.length === 0}
              onClick={() =>
                save(
                  new Blob([asFile(project, project.name)], { type: "application/json" }),
                  `${project.name}.madidus-rules.json`,
                )
              }
            >
              keep these as a file
            </button>
          </p>
          <input ref={file} type="file" accept=".json" className="hidden" aria-label="file of rules" onChange={read} />
          <p className="pt-2 text-[11px] text-ink3">
            Taking replaces the rules of this project; undo takes them back. A place that is not here becomes the first
            outfall, and a scope that is not here becomes all.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
