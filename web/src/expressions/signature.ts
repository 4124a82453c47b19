import { callAt } from "@busy-harbor/core";
import { type EditorState, StateField } from "@codemirror/state";
import { showTooltip, type Tooltip } from "@codemirror/view";

/** Above the caret, while it is in the brackets of a function: how that is written, and the parameter at hand. */
export const signature = StateField.define<Tooltip | null>({
  create: tooltipAt,
  update: (shown, change) => (change.docChanged || change.selection ? tooltipAt(change.state) : shown),
  provide: (field) => showTooltip.from(field),
});

function tooltipAt(state: EditorState): Tooltip | null {
  const { head } = state.selection.main;
  const call = callAt(state.doc.toString(), head);
  if (!call) return null;
  return {
    // Above the first line, so that it covers none of the expression.
    pos: 0,
    above: true,
    create: () => {
      const dom = document.createElement("div");
      dom.className = "cm-signature";
      const { name, parameters, optional, about } = call.help;
      const line = dom.appendChild(document.createElement("p"));
      line.append(`${name}(`);
      parameters.forEach((parameter, i) => {
        const part = document.createElement(i === Math.min(call.parameter, parameters.length - 1) ? "b" : "span");
        part.textContent = i >= parameters.length - optional ? `[${parameter}]` : parameter;
        line.append(...(i > 0 ? [", "] : []), part);
      });
      line.append(")");
      dom.appendChild(document.createElement("p")).textContent = about;
      return { dom };
    },
  };
}
