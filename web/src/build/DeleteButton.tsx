import { Trash2 } from "lucide-react";
import { deleteSelection } from "./selection.ts";

/** Deletes what is selected. */
export function DeleteButton({ label }: { label: string }) {
  return (
    <div className="border-t border-line pt-2.5">
      <button className="button" onClick={deleteSelection}>
        <Trash2 size={14} /> {label}
      </button>
    </div>
  );
}
