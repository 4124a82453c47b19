import { flag, longText, reference, rows, settings } from "../../settings/setting.ts";
import { anyValue, target } from "../fields.ts";
import { stepKind } from "../kind.ts";

interface Call {
  readonly procedure: string;
  readonly args: readonly { readonly id: string }[];
  readonly alongside: boolean;
}

/** Does the steps of a procedure. */
export const call = stepKind({
  kind: "call",
  label: "Do a procedure",
  group: "calls",
  help: "Does the steps of a procedure, with values for what it asks for, and goes on when they are done; or at once, while they are done alongside, for no entity.",
  example: "Do Weigh with limit = 200 kg, and set heavy to its answer",
  sentence: "Do {procedure}( with {args})( {alongside})(, and set {into} to its answer)",
  settings: settings({
    procedure: reference("procedure", "Procedure", "Whose steps are done."),
    args: rows("With", "A value for each parameter.", {
      one: "value",
      most: 30,
      row: { value: anyValue("Value", "The value of this parameter.", { draws: 340 }) },
    }),
    alongside: flag(
      "Alongside",
      "alongside, without waiting for it",
      "Whether it goes on at once, while the procedure is done for no entity.",
    ),
    into: target("Set to its answer", "What is set to the procedure's answer. Empty: nothing.", {
      optional: true,
      used: ({ alongside }) => alongside !== true,
    }),
  }),
  lower(
    step,
    { lowering: { kernel }, next, read, write, locals, procedures, startProcess, fail, procedureIndex, parametersOf },
  ) {
    const { procedure, args, alongside } = step.step as unknown as Call;
    const index = procedureIndex(procedure);
    const given = parametersOf(index).map(({ id }) =>
      args.some((arg) => arg.id === id) ? read(step, `args.${id}.value`) : () => 0,
    );
    const values = new Float64Array(given.length);
    const tooDeep = () =>
      fail(
        step,
        "procedure",
        "step-failed",
        "calls procedures inside one another without end.",
        "Let it stop calling itself at some point.",
      );
    const evaluate = (token: number) => {
      for (let i = 0; i < given.length; i++) values[i] = given[i](token);
    };
    const set = (token: number) => {
      for (let i = 0; i < values.length; i++) locals.write(token, i, values[i]);
    };
    if (alongside)
      return kernel.emit((token) => {
        evaluate(token);
        const process = startProcess(procedures[index]);
        locals.begin(process, -1);
        set(process);
        return next;
      });
    const into = step.targets.has("into") ? write(step, "into") : undefined;
    const back = into
      ? kernel.emit((token) => {
          into(token, locals.answer[0]);
          return next;
        })
      : next;
    return kernel.emit((token) => {
      evaluate(token);
      if (!locals.begin(token, back)) {
        tooDeep();
        return next;
      }
      set(token);
      return procedures[index];
    });
  },
});

/** Ends the steps, wherever it stands, with an answer where somebody wants one. */
export const end = stepKind({
  kind: "end",
  label: "End here",
  group: "calls",
  help: "Ends the procedure or rule, wherever it stands; what it answers is given to who called it.",
  example: "End here, and answer entity.weight > limit",
  sentence: "End here(, and answer {answer})",
  settings: settings({
    answer: anyValue("Answer", "What is given to who called it. Empty: nothing.", { optional: true, draws: 341 }),
  }),
  lower(step, { lowering: { kernel }, end: last, optional, locals }) {
    const answer = optional(step, "answer");
    return kernel.emit((token) => {
      if (answer) locals.answer[0] = answer(token);
      return last;
    });
  },
});

/** Ends the run. */
export const stop = stepKind({
  kind: "stop",
  label: "Stop the run",
  group: "record",
  help: "Ends the replication when all else at this instant is done; what was measured up to then counts.",
  example: "Stop the run",
  sentence: "Stop the run(: {reason})",
  settings: settings({ reason: longText("Reason", "Why, told in the log.", "The last boat has left") }),
  lower(step, { lowering: { kernel, replication }, next, log }) {
    const { reason } = step.step as unknown as { reason: string };
    return kernel.emit((token) => {
      log?.(reason || "The run is stopped.", Number.NaN, token);
      replication.end();
      return next;
    });
  },
});

export const trace = stepKind({
  kind: "log",
  label: "Note in the log",
  group: "record",
  help: "While watching, writes a line into the log: words, and a value.",
  example: "Note in the log: waited, clock - joined",
  sentence: "Note in the log: {text}(, {value})",
  settings: settings({
    text: longText("Words", "What is noted.", "waited"),
    value: anyValue("Value", "A value behind the words. Empty: none.", { optional: true, draws: 342 }),
  }),
  lower(step, { lowering: { kernel }, next, optional, log }) {
    const { text } = step.step as unknown as { text: string };
    const value = optional(step, "value");
    return kernel.emit((token) => {
      log?.(text, value ? value(token) : Number.NaN, token);
      return next;
    });
  },
});
