import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { ApiProblem } from "./api/client.ts";
import { App } from "./App.tsx";
import { announce } from "./ui/announce.ts";
import { applyTheme } from "./ui/theme.ts";
import "./styles.css";

// A request that fails where nothing else says so (deleting, exporting, stopping a run) is told, not swallowed.
window.addEventListener("unhandledrejection", (event) => {
  const reason: unknown = event.reason;
  if (reason instanceof ApiProblem) event.preventDefault();
  // Any other is an error of the program: it stays in the browser's log too.
  announce(
    reason instanceof ApiProblem
      ? reason.message
      : `Something in this page went wrong: ${reason instanceof Error ? reason.message : String(reason)}`,
    true,
  );
});

applyTheme();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
