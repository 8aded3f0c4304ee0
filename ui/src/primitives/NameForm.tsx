import { useState } from "react";

/** Asks for the name under which something is kept; an empty one keeps nothing. */
export function NameForm({
  suggested = "",
  label,
  keep,
  leave,
  testId,
}: {
  suggested?: string;
  label: string;
  keep: (name: string) => void;
  leave: () => void;
  testId: string;
}) {
  const [name, setName] = useState(suggested);
  return (
    <form
      className="flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        const plain = name.trim().slice(0, 80);
        if (plain) keep(plain);
        leave();
      }}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: the field has just been asked for
        autoFocus
        className="field !w-40 !text-left"
        placeholder={label}
        aria-label={label}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && leave()}
        data-testid={testId}
      />
      <button type="submit" className="textlink">
        keep
      </button>
    </form>
  );
}
