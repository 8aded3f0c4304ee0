import { useProject } from "../document/store";
import { type Proposal, SHOWN, withOne } from "./taking";

/** What is here and not in the file: it stays, one by one, unless somebody says that it goes. */
export function Absent({
  proposal,
  gone,
  setGone,
}: {
  proposal: Proposal;
  gone: ReadonlySet<string>;
  setGone: (gone: ReadonlySet<string>) => void;
}) {
  const { pickAll } = useProject();
  const groups = Object.entries(proposal.left) as [keyof Proposal["absent"], string[]][];
  if (groups.every(([, names]) => names.length === 0)) return null;
  return (
    <div className="pt-3" data-testid="import-absent">
      <b className="font-semibold">Not in the file</b>{" "}
      <span className="text-ink3">stays as it is, unless it is ticked to be removed, with the links of a node</span>
      {groups.map(([group, names]) => {
        const ids = proposal.absent[group] ?? [];
        if (names.length === 0) return null;
        return (
          <div key={group} className="border-b border-rule py-[3px]">
            <p className="flex gap-3">
              {names.length} {group}
              <button
                type="button"
                className="textlink"
                title="pick them on the plan, to look at them"
                onClick={() => pickAll(ids)}
              >
                pick
              </button>
            </p>
            <ul className="flex flex-wrap gap-x-4">
              {names.slice(0, SHOWN).map((name, k) => {
                const id = ids[k] ?? "";
                return (
                  <li key={id}>
                    <label className="flex items-center gap-1">
                      <input
                        type="checkbox"
                        checked={gone.has(id)}
                        onChange={(event) => setGone(withOne(gone, id, event.target.checked))}
                        data-testid={`gone-${name}`}
                      />
                      <span className={gone.has(id) ? "font-semibold text-madder line-through" : ""}>{name}</span>
                    </label>
                  </li>
                );
              })}
              {names.length > SHOWN && <li className="text-ink3">and {names.length - SHOWN} more, which stay</li>}
            </ul>
          </div>
        );
      })}
    </div>
  );
}
