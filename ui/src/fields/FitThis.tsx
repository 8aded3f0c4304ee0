import { useNavigate } from "react-router";
import { useProject } from "../document/store";

/** Opens the fit with a store or a control. */
export function FitThis({ elements, children }: { elements: string[]; children: string }) {
  const { id, fitThese } = useProject();
  const navigate = useNavigate();
  return (
    <button
      type="button"
      className="textlink"
      onClick={() => {
        fitThese(elements);
        navigate(`/p/${id}/network`);
      }}
      data-testid="fit-this"
    >
      {children}
    </button>
  );
}
