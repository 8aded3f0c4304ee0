import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { read } from "../document/numbers";
import { type Quantity, show, unitOf } from "../document/units";

const isSelected = (input: HTMLInputElement | null) =>
  input !== null &&
  input === document.activeElement &&
  input.value !== "" &&
  input.selectionStart === 0 &&
  input.selectionEnd === input.value.length;

/** A number with its unit. Enter or leaving the field commits; Escape takes the old value back; units may be typed. */
export function NumberField({
  label,
  value,
  quantity,
  commit,
  testId,
  bare = false,
  short = false,
}: {
  label: string;
  /** null where nobody has stated it: the field is empty until somebody does. */
  value: number | null;
  quantity: Quantity;
  /** Answers why a value was refused: it stays in the field, marked, until it is mended or dropped. */
  commit: (value: number) => unknown;
  testId?: string;
  /** In a table: the label is read out but not drawn, and the unit stands in the heading. */
  bare?: boolean;
  /** In a sentence, for a figure of few digits. */
  short?: boolean;
}) {
  const shown = value === null ? "" : show(value, quantity);
  const [text, setText] = useState(shown);
  const [bad, setBad] = useState<string | null>(null);
  // the answer to an earlier edit must not wipe what is being typed
  const typing = useRef(false);
  const input = useRef<HTMLInputElement>(null);
  // nor the selection: what is typed next replaces the whole figure, and is not written behind it
  const selected = useRef(false);
  useEffect(() => {
    if (typing.current) return;
    selected.current = input.current?.value !== shown && isSelected(input.current);
    setText(shown);
    setBad(null);
  }, [shown]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when another text stands in the field
  useLayoutEffect(() => {
    if (selected.current) input.current?.select();
    selected.current = false;
  }, [text]);
  const finish = () => {
    typing.current = false;
    if (text === shown) return;
    const typed = read(text, quantity);
    setBad("wrong" in typed ? typed.wrong : null);
    if (!("value" in typed) || typed.value === value) return;
    const done = commit(typed.value);
    if (done instanceof Promise)
      void done.then((why: unknown) => {
        if (typeof why === "string" && !typing.current) setBad(why);
      });
  };
  const drop = () => {
    typing.current = false;
    setText(shown);
    setBad(null);
  };
  const field = (
    <label className={label && !bare ? "flex items-center justify-between gap-2 py-[3px]" : "inline-flex"}>
      {label && !bare && <span>{label}</span>}
      <span className="flex items-baseline gap-1">
        <input
          ref={input}
          className={
            bare
              ? "field !w-full !border-transparent !bg-transparent focus:!bg-hi"
              : label
                ? "field"
                : short
                  ? "field !w-9"
                  : "field !w-14"
          }
          value={text}
          aria-label={label || quantity}
          aria-invalid={bad !== null}
          data-testid={testId}
          title={bad ?? undefined}
          onChange={(e) => {
            typing.current = true;
            setText(e.target.value);
          }}
          onBlur={finish}
          onKeyDown={(e) => {
            if (e.key === "Enter") finish();
            if (e.key === "Escape") drop();
          }}
        />
        {!bare && (
          <span className={label ? "w-7 text-[11px] text-ink3" : "text-[11px] text-ink3"}>{unitOf(quantity)}</span>
        )}
      </span>
    </label>
  );
  if (bad === null || bare || !label) return field;
  return (
    <>
      {field}
      <p role="alert" className="pb-1 text-right text-[11px] leading-[13px] text-madder">
        {bad}; kept: {shown} {unitOf(quantity)}{" "}
        <button type="button" className="textlink" onClick={drop}>
          drop
        </button>
      </p>
    </>
  );
}
