import { useState } from "react";
import { NumberField } from "../primitives/NumberField";

/** Asks for more rain or more paved ground, as a column of its own. */
export function WhatIfForm({ name, add }: { name: string; add: (rain: number, creep: number) => void }) {
  const [rain, setRain] = useState(0.1);
  const [creep, setCreep] = useState(0);
  return (
    <details className="pt-1" data-testid="what-if">
      <summary className="text-ink2">what if</summary>
      <NumberField label="More rain" value={rain} quantity="share" commit={setRain} testId="what-if-rain" />
      <NumberField label="More paved ground" value={creep} quantity="share" commit={setCreep} testId="what-if-creep" />
      <button
        type="button"
        className="textlink disabled:text-ink3"
        disabled={rain === 0 && creep === 0}
        onClick={() => add(rain, creep)}
        data-testid="what-if-add"
      >
        add as a column
      </button>
      <p className="text-[11px] leading-[13px] text-ink3">of {name}; nothing changes</p>
    </details>
  );
}
