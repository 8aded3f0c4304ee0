import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { api, call } from "../api/client";
import { Page } from "../primitives/Page";

/** The page behind an error: what the field is that it names, what has it, and what is allowed. */
export function AboutField({ field }: { field: string }) {
  const { data } = useQuery({
    queryKey: ["about", field],
    queryFn: () => call(api.GET("/api/about", { params: { query: { field } } })),
  });
  if (!data?.length) return null;
  return (
    <Dialog.Root>
      <Dialog.Trigger className="textlink" data-testid="about-field">
        about this field
      </Dialog.Trigger>
      <Page title={data[0]?.field ?? ""} wide={560} testId="about-page">
        <div className="overflow-y-auto px-4 pb-4">
          {data.map((one) => (
            <section key={`${one.of}/${one.rules.join()}`} className="border-b border-rule py-2">
              <h3 className="font-semibold">
                {one.of} <span className="font-normal text-ink3">{one.of_says}</span>
              </h3>
              {one.says && <p>{one.says}</p>}
              {one.rules.length > 0 && <p className="text-ink2">Allowed: {one.rules.join("; ")}.</p>}
            </section>
          ))}
        </div>
      </Page>
    </Dialog.Root>
  );
}
