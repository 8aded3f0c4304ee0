import { Dialog } from "radix-ui";
import { Page } from "../primitives/Page";
import { Comparing } from "./Comparing";

/** Rows with headings, pasted into a table: matched like the columns of a file, and seen before they are taken. */
export function PastedRows({
  text,
  into,
  kinds,
  close,
}: {
  text: string;
  /** Name of the table. */
  into: string;
  kinds: readonly string[];
  close: () => void;
}) {
  const file = new File([text], "what was pasted", { type: "text/plain" });
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Page title={`Paste into ${into.toLowerCase()}`} wide={920} testId="pasted-rows">
        <Comparing
          source={{ file, form: "table", kinds }}
          head={
            <p className="text-ink3">
              Read by its headings, in any order; a row belongs to the element of its name, and makes a new one where
              there is none. Nothing changes before you take them.
            </p>
          }
          done={close}
        />
      </Page>
    </Dialog.Root>
  );
}
