import { soon } from "./soon";
import { useProject } from "./store";

/**
 * What queries about results hang on, and when they are asked. `of`: changes with what is in and with nothing else.
 * `still`: the answer is to the present revision, and nothing more of it is due within moments.
 */
export function useResults(): { of: (number | undefined)[]; still: boolean } {
  const { answer, revision } = useProject();
  const known = answer?.storms.reduce((sum, storm) => sum + (storm.state === "waiting" ? 0 : 1), 0);
  return {
    of: [answer?.revision, known, answer?.failures.length, answer?.worth.checked, answer?.worth.refined],
    still: answer !== null && answer.revision === revision && answer.state !== "refused" && !soon(answer),
  };
}
