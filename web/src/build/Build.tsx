import { Map as MapIcon, Rows3 } from "lucide-react";
import { type CSSProperties, lazy, Suspense, useEffect } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { CompassRose } from "../floor/CompassRose.tsx";
import { drawnDesign } from "../floor/members.ts";
import { MiniMap } from "../floor/MiniMap.tsx";
import { Rulers } from "../floor/Rulers.tsx";
import { ScaleBar } from "../floor/ScaleBar.tsx";
import { useView } from "../floor/viewStore.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { AddingDrawing } from "./AddingDrawing.tsx";
import { BuildFloor } from "./BuildFloor.tsx";
import { Card } from "./Card.tsx";
import { CardPane, useCardWidth } from "./CardPane.tsx";
import { Dock } from "./Dock.tsx";
import { QuickAdd } from "./QuickAdd.tsx";
import { MIN_HEIGHT, useLedger } from "../ledger/ledgerStore.ts";
import { useBuild } from "./buildStore.ts";
import { Surfaces } from "./Surfaces.tsx";
import { UndoButtons } from "./UndoButtons.tsx";
import { buildCommands, covered, fitEverything } from "./buildCommands.ts";
import { useOffer } from "../commands/commandStore.ts";

/** Fetched when it is first opened. */
const Ledger = lazy(() => import("../ledger/Ledger.tsx"));
const SavePicture = lazy(() => import("./SavePicture.tsx"));

/** Pixels of a floor's height below which little may stand on it. */
const LOW = 470;

const offered = () => buildCommands;

/** The Build stage: the floor, and on it the dock, the card and the scale. */
export function Build() {
  const study = useStudy((s) => s.history?.present);
  const studyId = useStudy((s) => s.id);
  const design = useDesign();
  const { size, fitted, fitAll } = useView();
  const { open: ledgerOpen, toggle: toggleLedger, height: ledgerHeight, setHeight } = useLedger();
  const savingPicture = useBuild((s) => s.savingPicture);
  const cardWidth = useCardWidth((s) => s.width);
  const mapShown = useBuild((s) => s.mapShown);
  const isLow = size.height < LOW;
  const ready = study && design && size.width > 0;

  useEffect(() => {
    if (ready && studyId && fitted !== studyId) fitAll(studyId, drawnDesign(study, design), study.plan, covered());
  }, [ready, studyId, fitted, design, study, fitAll]);

  useOffer(offered);

  if (!study || !design || !studyId) return null;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Surfaces />
      <Group orientation="vertical" className="min-h-0 grow">
        <Panel
          id="floor-pane"
          minSize="20%"
          className="relative overflow-hidden"
          style={{ "--card": `${cardWidth}px` } as CSSProperties}
        >
          <BuildFloor study={study} design={design} />
          {design.elements.length === 0 && study.drawings.length === 0 && (
            <div className="pointer-events-none absolute inset-0 right-[calc(var(--card)+20px)] flex items-center justify-center">
              <p className="max-w-sm text-center text-base text-soft">
                Begin with Arrivals from the dock below, or press A anywhere on the floor.
              </p>
            </div>
          )}
          {!isLow && (
            <div className="pointer-events-none absolute top-8 right-[calc(var(--card)+32px)]">
              <CompassRose />
            </div>
          )}
          <CardPane>
            <Card study={study} design={design} />
          </CardPane>
          <Rulers units={study.units} />
          {!isLow && mapShown && (
            <div className="absolute bottom-[126px] left-7">
              <MiniMap
                design={drawnDesign(study, design)}
                plan={study.plan}
                onPutAway={() => useBuild.setState({ mapShown: false })}
              />
            </div>
          )}
          <div
            className={`absolute left-7 flex items-end gap-3 ${isLow ? "bottom-[64px]" : "bottom-[92px]"}`}
            data-covers="bottom"
          >
            <ScaleBar units={study.units} onFit={fitEverything} />
            <UndoButtons />
            <button
              className="panel flex items-center gap-1.5 px-2.5 py-[5px]"
              aria-pressed={ledgerOpen}
              data-tip="All elements of a kind as rows (T)"
              onClick={toggleLedger}
            >
              <Rows3 size={14} /> Ledger
            </button>
            {!isLow && !mapShown && (
              <button
                className="panel px-2 py-[7px]"
                aria-label="Show the small map"
                data-tip="Show the whole plan in small, while parts of it lie out of view"
                onClick={() => useBuild.setState({ mapShown: true })}
              >
                <MapIcon size={14} />
              </button>
            )}
          </div>
          <div className="pointer-events-none absolute right-[calc(var(--card)+16px)] bottom-3 left-3 flex justify-center *:pointer-events-auto">
            <Dock low={isLow} />
          </div>
          <QuickAdd design={design} />
          <div className="pointer-events-none absolute top-10 right-[calc(var(--card)+32px)] left-10 flex justify-center *:pointer-events-auto">
            <AddingDrawing />
          </div>
        </Panel>
        {ledgerOpen && (
          <>
            <Separator className="pane-edge" aria-label="Height of the ledger" />
            <Panel
              id="ledger-pane"
              minSize={MIN_HEIGHT}
              defaultSize={ledgerHeight}
              groupResizeBehavior="preserve-pixel-size"
              onResize={({ inPixels }) => setHeight(inPixels)}
            >
              <Suspense>
                <Ledger study={study} design={design} />
              </Suspense>
            </Panel>
          </>
        )}
      </Group>
      {savingPicture && (
        <Suspense>
          <SavePicture />
        </Suspense>
      )}
    </div>
  );
}
