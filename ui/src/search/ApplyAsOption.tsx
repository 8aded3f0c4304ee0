import { useState } from "react";
import { copied } from "../document/options";
import { type Change, useProject } from "../document/store";
import { NameForm } from "../primitives/NameForm";

/** Lays a design into an option of its own: the option, what changes in it, and that it is looked at are one step. */
export function useApply() {
  const { project, option, edit, showOption, say } = useProject();
  return async (name: string, patch: { [key: string]: unknown }[]): Promise<boolean> => {
    if (!project) return false;
    const change = copied(project, option, name);
    if ("problem" in change) {
      say(change.problem);
      return false;
    }
    const at = `/options/${change.shown}/network`;
    const laid = patch.map((one) => ({ ...one, path: `${at}${String(one.path)}` }) as Change);
    await edit([...change.changes, ...laid, { op: "replace", path: "/in_view", value: change.shown }]);
    if (!change.shown || !useProject.getState().project?.options[change.shown]) return false;
    await showOption(change.shown);
    return true;
  };
}

/** A button that asks for the option's name, and applies a patch of the network. */
export function ApplyAsOption({
  patch,
  suggested,
  done,
  disabled = false,
  small = false,
  testId,
}: {
  patch: { [key: string]: unknown }[];
  suggested: string;
  done?: () => void;
  disabled?: boolean;
  small?: boolean;
  testId: string;
}) {
  const [naming, setNaming] = useState(false);
  const apply = useApply();
  if (naming)
    return (
      <NameForm
        suggested={suggested}
        label="name of the option that it becomes"
        keep={(name) => void apply(name, patch).then((applied) => applied && done?.())}
        leave={() => setNaming(false)}
        testId={`${testId}-name`}
      />
    );
  return (
    <button
      type="button"
      className={small ? "textlink" : "bg-ink px-4 py-1 font-semibold text-hi disabled:opacity-40"}
      disabled={disabled || patch.length === 0}
      onClick={() => setNaming(true)}
      data-testid={testId}
    >
      {small ? "apply" : "Apply as an option"}
    </button>
  );
}
