import type { Catchment, Runoff } from "../document/types";
import { show } from "../document/units";
import { NumberField } from "../primitives/NumberField";

const COEFFICIENTS = [
  ["summer_paved", "Paved, summer"],
  ["winter_paved", "Paved, winter"],
  ["summer_green", "Green, summer"],
  ["winter_green", "Green, winter"],
] as const;

/** Shares that a catchment may give itself; each says whether it is the project's. */
export function OwnRunoff({
  ground,
  general,
  commit,
}: {
  ground: Catchment;
  general: Runoff;
  commit: (field: string) => (value: unknown) => void;
}) {
  const { method } = ground;
  const coefficients = method?.kind === "coefficient" ? method : null;
  return (
    <>
      <Own label="Creep of paved area" own={ground.creep} general={general.creep} commit={commit("creep")} />
      {coefficients &&
        COEFFICIENTS.map(([field, label]) => (
          <Own
            key={field}
            label={label}
            own={coefficients[field] ?? null}
            general={general[field]}
            commit={(value) => commit("method")({ ...coefficients, [field]: value })}
          />
        ))}
    </>
  );
}

function Own({
  label,
  own,
  general,
  commit,
}: {
  label: string;
  own: number | null;
  general: number;
  commit: (value: number | null) => void;
}) {
  return (
    <>
      <NumberField label={label} value={own ?? general} quantity="share" commit={commit} />
      <p className="text-right text-[11px] text-ink3">
        {own === null ? (
          "of the project"
        ) : (
          <button type="button" className="textlink" onClick={() => commit(null)}>
            as the project: {show(general, "share")} %
          </button>
        )}
      </p>
    </>
  );
}
