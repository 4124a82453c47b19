import type { Problem } from "@busy-harbor/core";
import { useNavigate } from "react-router";
import { useShown } from "../state/shown.ts";
import { useStudy } from "../state/study.ts";
import { useBuild } from "./buildStore.ts";

/** Brings the place of a problem on screen: its design, its element on the floor, its setting on the card. */
export function useGoToProblem(): (problem: Problem) => void {
  const navigate = useNavigate();
  return (problem) => {
    const { id: studyId, designId, showDesign, select } = useStudy.getState();
    if (problem.path[0] === "run") {
      void navigate(`/study/${studyId}/measure`);
      return;
    }
    if (problem.path[0] === "calendars") {
      void navigate(`/study/${studyId}/build/calendars?calendar=${problem.id}`);
      return;
    }
    if (problem.path.includes("procedures") || problem.path.includes("rules")) {
      if (problem.designId && problem.designId !== designId) showDesign(problem.designId);
      useBuild.setState({ focusField: problem.field });
      void navigate(`/study/${studyId}/build/procedures?at=${problem.id}`);
      return;
    }
    if (problem.path.includes("variables")) {
      void navigate(`/study/${studyId}/build/tables?variables`);
      return;
    }
    if (problem.path.includes("tables")) {
      const [, row, column] = /^cell\.(\d+)\.(.+)$/.exec(problem.field ?? "") ?? [];
      const cell = row === undefined ? "" : `&cell=${row}.${column}`;
      void navigate(`/study/${studyId}/build/tables?table=${problem.id}${cell}`);
      return;
    }
    if (problem.designId && problem.designId !== designId) showDesign(problem.designId);
    const isDisplay = problem.path.includes("displays");
    useShown.getState().show(isDisplay && problem.id ? { kind: "display", id: problem.id } : undefined);
    select(problem.id && !isDisplay && !problem.path.includes("measures") ? [problem.id] : []);
    useBuild.setState({ focusField: problem.field });
    void navigate(`/study/${studyId}/build`);
  };
}
