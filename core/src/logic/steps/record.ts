import { reference, settings } from "../../settings/setting.ts";
import { anyValue } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Records a value into a measure of one's own. */
export const record = stepKind({
  kind: "record",
  label: "Record in a measure",
  group: "record",
  help: "Puts a value into one of your measures: an observation more, the value that a level or a state has from now on, or a count.",
  example: "Record clock - entity.joined in Time in line",
  sentence: "Record {value} in {measure}",
  settings: settings({
    value: anyValue("Value", "What is recorded, such as clock - entity.joined; of a state, its text.", {
      initial: "1",
      draws: 350,
    }),
    measure: reference("measure", "Measure", "One of your measures that steps record into."),
  }),
  lower(step, { lowering: { kernel }, next, read, recorders }) {
    const value = read(step, "value");
    const put = recorders.of((step.step as unknown as { measure: string }).measure)!;
    return kernel.emit((token) => {
      put(value(token), token);
      return next;
    });
  },
});
