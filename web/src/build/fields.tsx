import type { Problem, Study } from "@busy-harbor/core";
import {
  type ChangeEvent,
  type KeyboardEvent,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
} from "react";
import { FactorButton } from "../experiments/FactorButton.tsx";
import { PlaceContext, placeOf } from "../experiments/placeAtHand.ts";
import { useBuild } from "./buildStore.ts";
import { readLength, showLength } from "./length.ts";
import { ExpressionInput } from "../expressions/ExpressionInput.tsx";
import { PickButton } from "../expressions/PickButton.tsx";
import type { ExpressionOf } from "../expressions/names.ts";
import { mended } from "../expressions/mend.ts";
import { Choice } from "../ui/Choice.tsx";
import { readable, useKept } from "../ui/useKept.ts";
import { z } from "zod";

interface RowProps {
  readonly label: string;
  readonly help?: string;
  readonly name: string;
  readonly problems: readonly Problem[];
  /** What the setting is in the design this one was copied from, where it differs. */
  readonly was?: string;
  /** A figure drawn from the setting, such as its mean. */
  readonly sample?: ReactNode;
}

/** A label with its setting, and the setting's problems below it. */
function Row({
  label,
  help,
  name,
  problems,
  sample,
  was,
  children,
  besideLabel = false,
  onMend,
}: RowProps & {
  /** Something stands at the end of the label. */
  besideLabel?: boolean;
  children: (ids: { id: string; labelledBy: string; describedBy: string | undefined }) => ReactNode;
  /** Writes what a problem says to write instead. */
  onMend?: (problem: Problem) => void;
}) {
  const id = useId();
  const form = useContext(PlaceContext);
  const place = useMemo(() => (form && name !== "name" ? placeOf(form, name) : undefined), [form, name]);
  return (
    <div
      className="group/row grid grid-cols-[104px_1fr] items-start gap-x-3 py-1"
      data-field={name}
      data-place={place && JSON.stringify(place)}
    >
      <label id={`${id}-label`} htmlFor={id} data-tip={help} className={`pt-1 text-soft ${besideLabel ? "pr-5" : ""}`}>
        {label}
        {was !== undefined && (
          <span
            role="img"
            aria-label={`was ${was || "empty"}`}
            data-tip={`Was ${was || "empty"} in the design this one was copied from.`}
            className="ml-1.5 inline-block h-2 w-2 rounded-full bg-buoy"
          />
        )}
        {place && <FactorButton path={place} label={label} />}
      </label>
      <div className="min-w-0">
        {children({
          id,
          labelledBy: `${id}-label`,
          describedBy: problems.length > 0 ? `${id}-problems` : undefined,
        })}
        {sample && problems.length === 0 && <p className="pt-0.5 text-xs text-soft">{sample}</p>}
        {problems.length > 0 && (
          <ul id={`${id}-problems`} className="pt-1 text-xs text-buoy-deep">
            {problems.map((p) => (
              <li key={`${p.code}${p.message}`}>
                {p.message.replace(`${label}: `, "")} {p.hint && <span className="text-ink">{p.hint}</span>}
                {onMend && p.fix !== undefined && (
                  <button
                    type="button"
                    className="ml-1 text-action underline underline-offset-2"
                    data-tip="Alt Enter while writing"
                    // The keys stay where they are.
                    onPointerDown={(event) => event.preventDefault()}
                    onClick={() => onMend(p)}
                  >
                    Write <span className="mono">{p.fix}</span>
                  </button>
                )}
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}

/** A text or expression. What is typed is kept at once, right or wrong. */
export function TextRow({
  value,
  onChange,
  onEnter,
  mono = true,
  placeholder,
  expression,
  ...row
}: RowProps & {
  value: string;
  onChange: (value: string) => void;
  onEnter?: (form: HTMLFormElement | null) => void;
  mono?: boolean;
  placeholder?: string;
  /** It is an expression, and this is where it stands. */
  expression?: ExpressionOf;
}) {
  const ref = useRef<HTMLTextAreaElement>(null);
  const focusField = useBuild((s) => s.focusField);
  useEffect(() => {
    if (focusField !== row.name || !ref.current) return;
    ref.current.focus();
    ref.current.scrollIntoView({ block: "center" });
    useBuild.setState({ focusField: undefined });
  }, [focusField, row.name]);
  if (expression)
    return (
      <Row
        {...row}
        besideLabel={expression.draws !== undefined}
        onMend={(problem) => {
          const better = mended(value, problem);
          if (better !== undefined) onChange(better);
        }}
      >
        {(ids) => (
          <div className="relative">
            <ExpressionInput
              ref={ref}
              {...ids}
              value={value}
              of={expression}
              problems={row.problems}
              placeholder={placeholder}
              onChange={onChange}
              onEnter={onEnter && (() => onEnter(null))}
            />
            {/* Beside the label, so that all fields end in one line. */}
            {expression.draws && (
              <div className="absolute top-0.5 right-full mr-1">
                <PickButton label={row.label} value={value} wanted={expression.draws} onWrite={onChange} />
              </div>
            )}
          </div>
        )}
      </Row>
    );
  return (
    <Row {...row}>
      {({ id, describedBy }) => (
        <textarea
          ref={ref}
          id={id}
          className={`field block field-sizing-content resize-none ${mono ? "mono" : ""}`}
          value={value}
          placeholder={placeholder}
          spellCheck={!mono}
          maxLength={4000}
          autoComplete="off"
          rows={1}
          aria-invalid={row.problems.length > 0}
          aria-describedby={describedBy}
          // A setting is one line of meaning, however long: Enter ends it.
          onKeyDown={(event: KeyboardEvent<HTMLTextAreaElement>) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            onEnter?.(event.currentTarget.form);
          }}
          onChange={(event: ChangeEvent<HTMLTextAreaElement>) => onChange(event.target.value.replace(/\n/g, " "))}
        />
      )}
    </Row>
  );
}

/** Longest name the study file takes. */
const MOST_IN_NAME = 80;
const NAME = z
  .string()
  .refine((text) => text.trim() !== "", "A name is needed.")
  .max(MOST_IN_NAME, `A name has at most ${MOST_IN_NAME} characters.`);

/** A problem of what is typed, which the design does not know of. */
const refused = (message: string, hint: string): Problem => ({
  code: "unreadable",
  severity: "error",
  path: [],
  message,
  hint,
});

/** A name. One that cannot be kept (empty, too long) stays in the field with its problem, and the old one holds. */
export function NameRow({
  value,
  onChange,
  onRenamed,
  problems,
  ...row
}: RowProps & {
  value: string;
  onChange: (value: string) => void;
  /** Told once typing is over and the name is another than before. */ onRenamed?: (from: string, to: string) => void;
}) {
  const before = useRef<string>(undefined);
  const kept = useKept({ shown: value, schema: NAME, onChange });
  const over = () => {
    if (before.current !== undefined && before.current !== value) onRenamed?.(before.current, value);
    before.current = undefined;
  };
  return (
    <div
      className="contents"
      onFocus={() => (before.current = value)}
      onBlur={over}
      onKeyDown={(event) => {
        if (event.key !== "Enter") return;
        over();
        before.current = value;
      }}
    >
      <TextRow
        {...row}
        mono={false}
        value={kept.text}
        problems={kept.problem ? [refused(kept.problem, `"${value}" is kept until then.`)] : problems}
        onChange={kept.onChange}
      />
    </div>
  );
}

interface ReadRowProps extends Omit<RowProps, "problems"> {
  /** The number as it is shown for editing. */
  readonly shown: string;
  /** The number of a text; undefined when it is none, or out of bounds. */
  readonly read: (text: string) => number | undefined;
  /** What is said of a text that cannot be read. */
  readonly refusal: { readonly message: string; readonly hint: string };
  readonly onChange: (value: number) => void;
}

/** A number read from text. Text that cannot be read stays in the field with its problem, and the old number holds. */
export function ReadRow({ shown, read, refusal, onChange, ...row }: ReadRowProps) {
  const { message, hint } = refusal;
  const schema = useMemo(() => readable(read, message), [read, message]);
  const kept = useKept({ shown, schema, onChange });
  return (
    <div onBlur={kept.onBlur}>
      <TextRow
        {...row}
        value={kept.text}
        problems={kept.problem ? [refused(kept.problem, hint)] : []}
        onChange={kept.onChange}
      />
    </div>
  );
}

/** A length, kept in metres. */
export function LengthRow({
  metres,
  units,
  digits,
  ...row
}: Omit<ReadRowProps, "shown" | "read" | "refusal"> & { metres: number; units: Study["units"]; digits?: number }) {
  const shown = showLength(metres, units, digits);
  const read = useCallback((text: string) => readLength(text, units), [units]);
  return (
    <ReadRow
      {...row}
      shown={shown}
      read={read}
      refusal={{ message: "This is not a length, or too far away.", hint: `Write it as ${shown}.` }}
    />
  );
}

export function ChoiceRow<T extends string>({
  value,
  choices,
  onChange,
  ...row
}: RowProps & { value: T; choices: readonly (readonly [value: T, label: string])[]; onChange: (value: T) => void }) {
  return (
    <Row {...row}>
      {({ id, describedBy }) => (
        <Choice
          id={id}
          value={value}
          options={choices.map(([choice, label]) => ({ value: choice, label }))}
          invalid={row.problems.length > 0}
          describedBy={describedBy}
          onChange={onChange}
        />
      )}
    </Row>
  );
}

export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="border-t border-line py-2.5">
      <h3 className="caps pb-1">{title}</h3>
      {children}
    </section>
  );
}

interface KeptProps {
  /** Its name for assistive technology, where no label names its id. */
  readonly label: string;
  readonly id?: string;
  readonly shown: string;
  /** What the text means; undefined when it means nothing. */
  readonly read: (text: string) => string | undefined;
  /** What is wanted, for a text that means nothing. */
  readonly wanted: string;
  readonly className?: string;
  readonly placeholder?: string;
  /** Taken over with every key, or once typing is over, where half a text means something else. */
  readonly when?: "typing" | "leaving";
  /** Names and words are not written in the letters of expressions. */
  readonly mono?: boolean;
  readonly onChange: (value: string) => void;
}

/**
 * A small field without a row of its own. Text that means nothing stays in it with its problem, and the old value
 * holds.
 */
export function KeptInput({
  label,
  id: given,
  shown,
  read,
  wanted,
  className = "",
  placeholder,
  when = "typing",
  mono = true,
  onChange,
}: KeptProps) {
  const id = useId();
  const schema = useMemo(() => readable(read, wanted), [read, wanted]);
  const kept = useKept({ shown, schema, when, onChange: (value) => value !== shown && onChange(value) });
  const bad = kept.problem !== undefined;
  return (
    <span className={`inline-block ${className}`}>
      <input
        id={given}
        className={`field ${mono ? "mono" : ""}`}
        aria-label={given ? undefined : label}
        aria-invalid={bad}
        aria-describedby={bad ? id : undefined}
        value={kept.text}
        placeholder={placeholder}
        spellCheck={false}
        autoComplete="off"
        onChange={(event) => kept.onChange(event.target.value)}
        onBlur={kept.onBlur}
        onKeyDown={(event) => event.key === "Enter" && kept.onBlur()}
      />
      {bad && (
        <span id={id} role="alert" className="block text-xs text-buoy-deep">
          {kept.problem} <span className="text-ink">{shown} is used until then.</span>
        </span>
      )}
    </span>
  );
}

/**
 * Details that open by themselves when they say so, and then stay as a person leaves them: nothing closes under
 * somebody who types.
 */
export function Details({ summary, open: says, children }: { summary: ReactNode; open: boolean; children: ReactNode }) {
  const [open, setOpen] = useState(says);
  useEffect(() => {
    if (says) setOpen(true);
  }, [says]);
  return (
    <details
      className="rounded-lg border border-line px-3 py-1.5 not-first:mt-1.5"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="flex items-center gap-2 py-0.5 font-medium">{summary}</summary>
      {children}
    </details>
  );
}
