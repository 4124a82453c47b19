export * from "./quantity/index.ts";
export * from "./expression/index.ts";
export * from "./timetable/index.ts";
export { DRAWING_FORMATS, fileId, LAST_STREAM, type Point } from "./settings/parts.ts";
export * from "./settings/references.ts";
export * from "./settings/settingsOf.ts";
export {
  type ChoiceSetting,
  type ExpressionSetting,
  type ReferenceSetting,
  type ResourcesSetting,
  type RowsSetting,
  type Setting,
  settingsIn,
  type SettingsSpec,
  type Target,
} from "./settings/setting.ts";
export type { FieldSpec, Values } from "./settings/field.ts";
export * from "./document/calendar.ts";
export * from "./document/customMeasure.ts";
export * from "./document/display.ts";
export * from "./document/drawing.ts";
export { type ElementBase, WAYS_OUT, type WayOut } from "./document/element.ts";
export * from "./document/entityType.ts";
export * from "./document/family.ts";
export {
  type ExperimentPlan,
  experimentSchema,
  type Factor,
  factorSchema,
  MOST_FACTORS,
  MOST_SCENARIOS,
  type Scenario,
  scenarioSchema,
  type SearchPlan,
  searchPlanSchema,
} from "./document/experiment.ts";
export * from "./document/link.ts";
export * from "./document/logic.ts";
export * from "./document/plan.ts";
export * from "./document/road.ts";
export * from "./document/runSettings.ts";
export * from "./document/streamSettings.ts";
export * from "./document/table.ts";
export * from "./document/tableLink.ts";
export * from "./document/variable.ts";
export { FORMAT, VERSION } from "./document/study.ts";
export * from "./document/problem.ts";
export * from "./study/schema.ts";
export * from "./study/read.ts";
export * from "./study/write.ts";
export * from "./study/knownAnswers.ts";
export * from "./study/streams.ts";
export * from "./study/fingerprint.ts";
export * from "./compile/compile.ts";
export * from "./compile/run.ts";
export * from "./compile/changes.ts";
export * from "./compile/differences.ts";
export { settingsFromCells } from "./compile/families/cellValue.ts";
export { memberStream } from "./compile/families/memberStream.ts";
export { namedIn, unfold, type Unfolded } from "./compile/families/unfold.ts";
export * from "./compile/expressionScopes.ts";
export * from "./compile/geometry.ts";
export { DOING, type Doing } from "./lowering/carrying.ts";
export { type Manner, MANNERS } from "./lowering/walkers.ts";
export { curvedRoad, jointsFor, roadPoints } from "./compile/resolve/roads.ts";
export { JOINS_WITHIN, type Route, WayNetwork } from "./movement/network.ts";
export { unitOfColumn } from "./compile/resolve/cells.ts";
export * from "./compile/renameUses.ts";
export { type Departed, type Observe, observationTable } from "./compile/observations.ts";
export { settles, settlingOf } from "./compile/settling.ts";
export { type WrittenTable, writtenTables } from "./compile/writtenTables.ts";
export * from "./compile/randomSources.ts";
export * from "./compile/routes.ts";
export * from "./compile/tableUses.ts";
export { type LineCurve, Watched } from "./compile/watched.ts";
export { Curve, type Steps } from "./statistics/curve.ts";
export { type Frame, metresAlong } from "./compile/frame.ts";
export { type ReplicationResult, Session, type SessionOptions } from "./compile/session.ts";
export { PHASE, PHASES, type Phase } from "./lowering/places.ts";
export type { RunFailure } from "./kernel/failure.ts";
export { readFromTo } from "./model/fromTo.ts";
export { nameOfNode } from "./model/model.ts";
export type { DisplayModel, MemberOf, Model, Node, Traits, Way } from "./model/model.ts";
export * from "./elements/index.ts";
export { STEP_GROUPS, type StepKind } from "./logic/kind.ts";
export * from "./logic/sentence.ts";
export { valueText } from "./model/cells.ts";
export { readSteps, type StepsRead } from "./logic/readSteps.ts";
export { type Look, looksOf } from "./logic/steps/look.ts";
export { stepKindOf, stepKinds } from "./logic/steps/index.ts";
export { type DecidingModel, readDeciding, targetVerdict, usuallyBetter, type Verdict } from "./compile/deciding.ts";
export {
  type DesignParagraph,
  designText,
  designWords,
  type WordsChange,
  wordsChanged,
} from "./compile/designWords.ts";
export {
  type Assumption,
  assumptionSchema,
  type Deciding,
  decidingSchema,
  frameSchema,
  type StudyFrame,
} from "./document/frame.ts";
export { eventWords, ruleEvent, ruleSentence, ruleTitle } from "./compile/ruleWords.ts";
export { TYPE_EVENTS } from "./compile/resolve/logic.ts";
export type { Keep } from "./lowering/keeping.ts";
export type { LogLine, ReachedStep, Wrote } from "./logic/logic.ts";
export type { StepModel } from "./model/logic.ts";
export { definitionOf, measureRegistry, placeFigure, sourceOf, specOf } from "./elements/measures.ts";
export { distributions } from "./random/distributions.ts";
export type { MeasureInfo } from "./measures/info.ts";
export * from "./inference/interval.ts";
export * from "./inference/batchMeans.ts";
export * from "./inference/comparePaired.ts";
