import { zodResolver } from "@hookform/resolvers/zod";
import { useLayoutEffect, useMemo, useRef } from "react";
import { useController, useForm } from "react-hook-form";
import { z } from "zod";

/** A text that means something, by what reads it; `wanted` is said of one that means nothing. */
export const readable = <T>(read: (text: string) => T | undefined, wanted: string) =>
  z.string().transform((text, context): T => {
    const value = read(text);
    if (value !== undefined) return value;
    context.addIssue(wanted);
    return z.NEVER;
  });

/** A number, within bounds. */
export const numberWithin = (least: number, most: number, whole: boolean) =>
  readable(
    (text) => {
      const number = Number(text);
      const isGood = text.trim() !== "" && number >= least && number <= most && (!whole || Number.isInteger(number));
      return isGood ? number : undefined;
    },
    `${whole ? "A whole number" : "A number"} from ${least} to ${most} is wanted.`,
  );

export interface Kept {
  readonly text: string;
  /** What is wrong with the text, while it means nothing. */
  readonly problem: string | undefined;
  onChange(text: string): void;
  onBlur(): void;
  /** Shows what holds, whatever is typed. */
  giveUp(): void;
}

/**
 * What is typed in a field is kept: a text that means something is handed on, one that does not stays with its problem
 * while the old value holds. When the field is left, it shows what holds, if it can.
 */
export function useKept<T>({
  shown,
  schema,
  when = "typing",
  onChange,
}: {
  /** What holds, as it is written. */
  shown: string;
  /** Reads the text; the same one as long as it reads the same. */
  schema: z.ZodType<T, string>;
  /** Handed on with every key, or once typing is over, where half a text means something else. */
  when?: "typing" | "leaving";
  onChange: (value: T) => void;
}): Kept {
  const resolver = useMemo(() => zodResolver(z.object({ text: schema })), [schema]);
  const { control, formState, reset, getValues } = useForm<{ text: string }, unknown, { text: T }>({
    mode: "onChange",
    defaultValues: { text: shown },
    resolver,
  });
  const { field } = useController({ control, name: "text" });
  /** Whether what holds is changing because of what was typed. */
  const isHanding = useRef(false);
  const hand = (text: string) => {
    const result = schema.safeParse(text);
    if (!result.success) return;
    isHanding.current = true;
    setTimeout(() => (isHanding.current = false));
    onChange(result.data);
  };

  // What holds was changed elsewhere, as by undo: it is shown, but for a text that could not be taken.
  const before = useRef(shown);
  useLayoutEffect(() => {
    if (before.current === shown) return;
    before.current = shown;
    if (!isHanding.current && schema.safeParse(getValues("text")).success) reset({ text: shown });
  }, [shown, schema, getValues, reset]);

  return {
    text: field.value,
    problem: formState.errors.text?.message,
    onChange(text) {
      field.onChange(text);
      if (when === "typing") hand(text);
    },
    onBlur() {
      const result = schema.safeParse(field.value);
      if (field.value === shown || !result.success) return;
      reset({ text: shown });
      if (when === "leaving") onChange(result.data);
    },
    giveUp: () => reset({ text: shown }),
  };
}
