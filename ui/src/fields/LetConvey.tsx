import { useState } from "react";
import { areaOf } from "../document/course";
import { useProject } from "../document/store";
import { type Basin, outlineOf, type Storage } from "../document/types";
import { NumberField } from "../primitives/NumberField";

/** A long pond whose water runs from its inlets to its outlet: a channel of the same areas in place of a level pool. */
export function LetConvey({ id, pond }: { id: string; pond: Storage | Basin }) {
  const { apply, pickAll } = useProject();
  const base = pond.kind === "basin" ? areaOf(outlineOf(pond)) : (pond.table[0]?.area ?? 100);
  const [length, setLength] = useState(Math.round(2 * Math.sqrt(base)));
  const [fall, setFall] = useState(0);
  const [roughness, setRoughness] = useState(0.035);
  return (
    <details className="mt-1" data-testid="let-convey">
      <summary className="text-ink2">Let it convey</summary>
      <NumberField label="Length" value={length} quantity="length" commit={setLength} testId="convey-length" />
      <NumberField label="Fall of its bed" value={fall} quantity="length" commit={setFall} testId="convey-fall" />
      <NumberField label="Roughness" value={roughness} quantity="roughness" commit={setRoughness} />
      <button
        type="button"
        className="textlink"
        onClick={() =>
          void apply([{ edit: "let convey", element: id, length, fall, roughness }]).then(
            (made) => made.length && pickAll(new Set(made.slice(1))),
          )
        }
        data-testid="convey-apply"
      >
        make it a channel
      </button>
      <p className="text-[11px] leading-[13px] text-ink3">
        The areas at base and bank stay; what comes in enters at its head, its outlets leave its foot. Rules about
        freeboard look at stores: water below cover looks at both ends.
      </p>
    </details>
  );
}
