import { useEffect, useId, useRef, useState } from "react";

/** A line of text that is underlined like a word; Enter or leaving it commits, Escape takes the old one back. */
export function TextLine({
  label,
  value,
  commit,
  placeholder = "",
  longest = 200,
  rows = 1,
  testId,
}: {
  label: string;
  value: string;
  commit: (value: string) => unknown;
  placeholder?: string;
  longest?: number;
  rows?: number;
  testId?: string;
}) {
  const [text, setText] = useState(value);
  const field = useId();
  const typing = useRef(false);
  useEffect(() => {
    if (!typing.current) setText(value);
  }, [value]);
  const finish = () => {
    typing.current = false;
    if (text !== value) commit(text);
  };
  const shared = {
    id: field,
    className: "min-w-0 flex-1 border-b border-ink3 bg-transparent px-1 placeholder:text-ink3",
    value: text,
    placeholder,
    maxLength: longest,
    "data-testid": testId,
    onBlur: finish,
  };
  const drop = () => {
    typing.current = false;
    setText(value);
  };
  return (
    <div className="flex items-baseline justify-between gap-2 py-[2px]">
      <label htmlFor={field} className="w-[76px] shrink-0 text-ink2">
        {label}
      </label>
      {rows > 1 ? (
        <textarea
          {...shared}
          rows={rows}
          onChange={(event) => {
            typing.current = true;
            setText(event.target.value);
          }}
          onKeyDown={(event) => event.key === "Escape" && drop()}
        />
      ) : (
        <input
          {...shared}
          onChange={(event) => {
            typing.current = true;
            setText(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") drop();
          }}
        />
      )}
    </div>
  );
}
