import { Dialog, DropdownMenu } from "radix-ui";
import { type ReactNode, useState } from "react";
import { copied, fresh, type OptionChange, renamed, retired } from "../document/options";
import { useProject } from "../document/store";
import { optionsOf } from "../document/types";
import { NameForm } from "../primitives/NameForm";

const ROW = "cursor-pointer px-3 py-[3px] outline-none data-[highlighted]:bg-lo data-[disabled]:text-ink3";

/** The option that is looked at: another one at a click, with its results; added, copied, renamed, noted, retired. */
export function Options() {
  const { project, option, edit, showOption, say } = useProject();
  const [naming, setNaming] = useState<"rename" | "copy" | "add" | null>(null);
  const [noting, setNoting] = useState(false);
  const own = project?.options[option];
  if (!project || !own) return null;
  const all = optionsOf(project);

  /** Make an edit and go to the option that it made, if any. */
  const make = async (change: OptionChange) => {
    setNaming(null);
    if ("problem" in change) {
      say(change.problem);
      return;
    }
    await edit(change.changes);
    if (change.shown && useProject.getState().project?.options[change.shown]) await showOption(change.shown);
  };
  if (naming)
    return (
      <NameForm
        suggested={naming === "rename" ? own.name : naming === "copy" ? `${own.name}, copy` : "B"}
        label={`name of the option to ${naming}`}
        keep={(name) =>
          void make(
            naming === "rename"
              ? renamed(project, option, name)
              : naming === "copy"
                ? copied(project, option, name)
                : fresh(project, name),
          )
        }
        leave={() => setNaming(null)}
        testId="option-name"
      />
    );
  const item = (label: ReactNode, act: () => void, testId: string, disabled = false) => (
    <DropdownMenu.Item className={ROW} onSelect={act} data-testid={testId} disabled={disabled}>
      {label}
    </DropdownMenu.Item>
  );
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="max-w-[22ch] truncate text-ink2" title={own.note} data-testid="options">
          Option <b className="font-semibold text-ink">{own.name}</b>
          {own.retired ? ", retired" : ""} ▾
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="z-50 max-w-96 min-w-64 border border-ink bg-hi py-1" align="start">
            {all.map(({ id, option: one }) => (
              <DropdownMenu.Item
                key={id}
                className={`${ROW} ${one.retired ? "text-ink3" : ""}`}
                onSelect={() => id !== option && void showOption(id)}
                data-testid={`option-${one.name}`}
                aria-current={id === option}
              >
                <span className="inline-block w-4">{id === option ? "•" : ""}</span>
                <span className={id === option ? "font-semibold" : ""}>{one.name}</span>
                {one.retired && " (retired)"}
                {one.note && <span className="block truncate pl-4 text-[11px] text-ink3">{one.note}</span>}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Separator className="my-1 border-t border-rule2" />
            {item("copy this option", () => setNaming("copy"), "option-copy")}
            {item("add an empty one", () => setNaming("add"), "option-add")}
            {item("rename", () => setNaming("rename"), "option-rename")}
            {item("note", () => setNoting(true), "option-note")}
            {item(
              own.retired ? "take up again" : "retire",
              () => void make(retired(project, option, !own.retired)),
              "option-retire",
              !own.retired && all.filter((one) => !one.option.retired).length < 2,
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Dialog.Root open={noting} onOpenChange={setNoting}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
          <Dialog.Content
            className="fixed top-24 left-1/2 z-50 w-[420px] -translate-x-1/2 border border-ink bg-hi p-4"
            aria-describedby={undefined}
          >
            <Dialog.Title className="font-semibold">Note on option {own.name}</Dialog.Title>
            <textarea
              className="field mt-2 !h-28 w-full !text-left !font-sans"
              defaultValue={own.note}
              maxLength={2000}
              aria-label="note"
              data-testid="option-note-text"
              onBlur={(event) => {
                const note = event.target.value;
                if (note !== own.note) void edit([{ op: "replace", path: `/options/${option}/note`, value: note }]);
              }}
            />
            <Dialog.Close className="textlink mt-2" data-testid="option-note-done">
              done
            </Dialog.Close>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
