/** Edits of a project's options. */
import type { Change } from "./transport";
import { type Option, optionsOf, type Project } from "./types";

/** An edit with the option that is to be looked at after it, or why there is none. */
export type OptionChange = { changes: Change[]; shown?: string } | { problem: string };

function taken(project: Project, name: string, but?: string): { problem: string } | null {
  const other = Object.entries(project.options).find(([id, one]) => id !== but && one.name === name.trim());
  return other ? { problem: `option ${name.trim()} is there already; give this one a name of its own` } : null;
}

function added(project: Project, option: Option, after: string | null, name: string): OptionChange {
  const problem = taken(project, name);
  if (problem) return problem;
  const id = crypto.randomUUID();
  const place = after === null ? project.order.length : project.order.indexOf(after) + 1;
  return {
    changes: [
      { op: "add", path: `/options/${id}`, value: { ...option, name: name.trim() } },
      { op: "add", path: `/order/${place}`, value: id },
    ],
    shown: id,
  };
}

/** A copy, beside the one that it was made of. Its elements keep their ids, so that both can be compared. */
export function copied(project: Project, id: string, name: string): OptionChange {
  const own = project.options[id];
  if (!own) return { problem: "this option is not there any more" };
  return added(project, { ...own, retired: false, note: "" }, id, name);
}

/** An empty option, the last in order. */
export const fresh = (project: Project, name: string): OptionChange =>
  added(project, { name, note: "", retired: false, network: { nodes: {}, links: {}, catchments: {} } }, null, name);

export function renamed(project: Project, id: string, name: string): OptionChange {
  return taken(project, name, id) ?? { changes: [{ op: "replace", path: `/options/${id}/name`, value: name.trim() }] };
}

/** Put an option aside, or take it up again. The first of those that are left is looked at instead. */
export function retired(project: Project, id: string, retire: boolean): OptionChange {
  const left = optionsOf(project).find((one) => one.id !== id && !one.option.retired);
  if (retire && !left) return { problem: "it is the last option; copy it or add another before you retire it" };
  return {
    changes: [{ op: "replace", path: `/options/${id}/retired`, value: retire }],
    ...(retire && left ? { shown: left.id } : {}),
  };
}
