import { useProject } from "../document/store";
import { CatchmentCard } from "./CatchmentCard";
import { LinkCard } from "./LinkCard";
import { ManyCard } from "./ManyCard";
import { NodeCard } from "./NodeCard";

/** The picked element: inputs, what they imply, peaks with their storms, how the peak varies over durations. */
export function Inspector() {
  const { network, cursor, picked } = useProject();
  const many = picked.size > 1;
  const alone = many ? null : cursor.element;
  const node = network?.nodes[alone ?? ""];
  const link = network?.links[alone ?? ""];
  const ground = network?.catchments[alone ?? ""];
  return (
    <aside
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
      tabIndex={0}
      className="w-[272px] shrink-0 overflow-y-auto border-l border-rule2 px-3 py-2"
      aria-label="Inspector"
      data-testid="inspector"
    >
      {many && <ManyCard />}
      {!many && !node && !link && !ground && (
        <p className="text-ink3">Pick a pipe, a node, a control or a catchment on the plan or the section.</p>
      )}
      {ground && <CatchmentCard key={cursor.element} id={cursor.element ?? ""} ground={ground} />}
      {link && <LinkCard key={cursor.element} id={cursor.element ?? ""} link={link} />}
      {node && <NodeCard key={cursor.element} id={cursor.element ?? ""} node={node} />}
    </aside>
  );
}
