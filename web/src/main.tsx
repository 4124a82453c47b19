import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { ApiProblem } from "./api/client.ts";
import { App } from "./App.tsx";
import { announce } from "./ui/announce.ts";
import { applyTheme } from "./ui/theme.ts";
import "./styles.css";

// A request that fails where nothing else says so (deleting, exporting, stopping a run) is told, not swallowed.
window.addEventListener("unhandledrejection", (event) => {
  if (!(event.reason instanceof ApiProblem)) return;
  event.preventDefault();
  announce(event.reason.message, true);
});

applyTheme();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
