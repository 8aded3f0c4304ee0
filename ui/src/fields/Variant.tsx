import type { Quantity } from "../document/units";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";

/** A number of a variant: its field, what it is called, and how it is read. */
export type Num = [field: string, label: string, quantity: Quantity];
/** One of several kinds of a thing, each with numbers of its own. */
export type Kind = { label: string; value: Record<string, unknown>; numbers: Num[] };
type Tagged = { kind: string };

/** One of several kinds, and the numbers that the chosen one has. */
export function Variant({
  label,
  value,
  kinds,
  commit,
  testId,
}: {
  label: string;
  value: Tagged;
  kinds: Record<string, Kind>;
  commit: (value: Tagged) => void;
  testId?: string;
}) {
  return (
    <>
      <Choice
        label={label}
        value={value.kind}
        options={Object.fromEntries(Object.entries(kinds).map(([key, kind]) => [key, kind.label]))}
        commit={(kind) => commit({ kind, ...kinds[kind]?.value })}
        testId={testId}
      />
      {kinds[value.kind]?.numbers.map(([field, name, quantity]) => (
        <NumberField
          key={field}
          label={name}
          value={(value as unknown as Record<string, number>)[field] ?? 0}
          quantity={quantity}
          commit={(number) => commit({ ...value, [field]: number })}
          testId={testId && `${testId}-${field}`}
        />
      ))}
    </>
  );
}
