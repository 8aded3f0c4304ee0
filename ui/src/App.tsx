import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Patterns } from "./instrument/Patterns";
import { Sheet } from "./instrument/Sheet";
import { Brief } from "./stages/brief/Brief";
import { Deliver } from "./stages/Deliver";
import { NetworkStage } from "./stages/NetworkStage";
import { OptionsStage } from "./stages/OptionsStage";
import { Projects } from "./stages/Projects";
import { Rain } from "./stages/rain/Rain";
import { Storms } from "./stages/Storms";
import { VerdictStage } from "./stages/VerdictStage";

export function App() {
  return (
    <BrowserRouter>
      <Patterns />
      <Routes>
        <Route path="/" element={<Projects />} />
        <Route path="/p/:id" element={<Sheet />}>
          <Route index element={<Navigate to="network" replace />} />
          <Route path="brief" element={<Brief />} />
          <Route path="network" element={<NetworkStage />} />
          <Route path="rain" element={<Rain />} />
          <Route path="storms" element={<Storms />} />
          <Route path="verdict" element={<VerdictStage />} />
          <Route path="options" element={<OptionsStage />} />
          <Route path="deliver" element={<Deliver />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </BrowserRouter>
  );
}
