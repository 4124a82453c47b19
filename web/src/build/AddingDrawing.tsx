import { X } from "lucide-react";
import { useEffect, useState } from "react";
import { useDrawings } from "../drawings/drawingStore.ts";

/** Time after which a person is told that something takes a while, in ms. */
const SOON = 300;

/** Says that a drawing is being read, with a way to stop it, or why it was not taken. */
export function AddingDrawing() {
  const { adding, refusal } = useDrawings();
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (!adding) return setLate(false);
    const timer = setTimeout(() => setLate(true), SOON);
    return () => clearTimeout(timer);
    // However far it is: the time counts from its start.
  }, [adding === undefined]); // eslint-disable-line react-hooks/exhaustive-deps
  if (adding && late) {
    return (
      <div role="status" className="panel float flex items-center gap-3 px-3 py-2">
        <progress aria-label={`${adding.doing} ${adding.name}`} className="w-28" max={1} value={adding.share} />
        <span className="max-w-80 truncate">
          {adding.doing} {adding.name} …
        </span>
        <button className="button" onClick={adding.stop}>
          Stop
        </button>
      </div>
    );
  }
  if (!refusal) return null;
  return (
    <div role="alert" className="panel float max-w-lg border-buoy! px-3 py-2" data-testid="drawing-refused">
      <div className="flex items-start gap-2">
        <p className="grow">
          <strong className="font-semibold">{refusal.name}</strong> was not added. {refusal.message} {refusal.hint}
        </p>
        <button
          className="button button-quiet px-1!"
          aria-label="Dismiss"
          onClick={() => useDrawings.setState({ refusal: undefined })}
        >
          <X size={14} />
        </button>
      </div>
    </div>
  );
}
