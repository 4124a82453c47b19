import { useRouteError } from "react-router";

/** Shown when a page breaks: what was typed is kept, and this says how to go on. */
export function Mishap() {
  const error = useRouteError();
  return (
    <main className="mx-auto max-w-xl p-10" role="alert">
      <h1 className="pb-2 text-xl">This page broke</h1>
      <p className="pb-3 text-base text-soft">
        An error of the program, not of your study. What you changed is kept in this browser and saved when the page
        opens again.
      </p>
      <p className="mono pb-4 wrap-anywhere">{error instanceof Error ? error.message : String(error)}</p>
      <a className="button button-main" href={window.location.pathname}>
        Open the page again
      </a>{" "}
      <a className="button" href="/">
        To the studies
      </a>
    </main>
  );
}
