import { lazy, Suspense } from "react";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { StudyFrame } from "./bridge/StudyFrame.tsx";
import { Later } from "./bridge/Later.tsx";
import { Mishap } from "./ui/Mishap.tsx";
import { Announcer } from "./ui/Announcer.tsx";
import { Tips } from "./ui/Tips.tsx";

const Home = lazy(() => import("./home/Home.tsx").then((m) => ({ default: m.Home })));
const Frame = lazy(() => import("./frame/Frame.tsx").then((m) => ({ default: m.Frame })));
const Build = lazy(() => import("./build/Build.tsx").then((m) => ({ default: m.Build })));
const Logic = lazy(() => import("./logic/Logic.tsx"));
const Tables = lazy(() => import("./tables/Tables.tsx"));
const RandomSources = lazy(() => import("./streams/RandomSources.tsx"));
const Calendars = lazy(() => import("./calendars/Calendars.tsx").then((m) => ({ default: m.Calendars })));
const Watch = lazy(() => import("./watch/Watch.tsx").then((m) => ({ default: m.Watch })));
const Measure = lazy(() => import("./measure/Measure.tsx").then((m) => ({ default: m.Measure })));
const Compare = lazy(() => import("./compare/Compare.tsx").then((m) => ({ default: m.Compare })));

/** A page that breaks breaks alone: the bar above it, and with it every other page, stays. */
const page = (element: React.ReactNode) => (
  <Suspense fallback={<p className="p-8 text-soft">Loading …</p>}>{element}</Suspense>
);

const router = createBrowserRouter([
  { path: "/", element: page(<Home />), errorElement: <Mishap /> },
  {
    path: "/study/:id",
    element: <StudyFrame />,
    errorElement: <Mishap />,
    children: [
      { index: true, element: <Navigate to="build" replace /> },
      { path: "frame", element: page(<Frame />), errorElement: <Mishap /> },
      { path: "build", element: page(<Build />), errorElement: <Mishap /> },
      { path: "build/procedures", element: page(<Logic />), errorElement: <Mishap /> },
      { path: "build/tables", element: page(<Tables />), errorElement: <Mishap /> },
      { path: "build/sources", element: page(<RandomSources />), errorElement: <Mishap /> },
      { path: "build/calendars", element: page(<Calendars />), errorElement: <Mishap /> },
      { path: "watch", element: page(<Watch />), errorElement: <Mishap /> },
      { path: "check", element: <Later stage="check" /> },
      { path: "measure", element: page(<Measure />), errorElement: <Mishap /> },
      { path: "compare", element: page(<Compare />), errorElement: <Mishap /> },
      { path: "tell", element: <Later stage="tell" /> },
    ],
  },
  { path: "*", element: <Navigate to="/" replace /> },
]);

export function App() {
  return (
    <>
      <RouterProvider router={router} />
      <Announcer />
      <Tips />
    </>
  );
}
