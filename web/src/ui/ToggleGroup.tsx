import { ToggleGroup as Primitive } from "radix-ui";

/** A choice of one from a few, all in sight. */
export function ToggleGroup<T extends string>({
  label,
  value,
  options,
  nameOf,
  onChange,
}: {
  label: string;
  value: T;
  options: ReadonlyArray<readonly [value: T, words: string]>;
  /** What an option is called, where its words alone do not say it. */
  nameOf?: (value: T) => string;
  onChange: (value: T) => void;
}) {
  return (
    <Primitive.Root
      type="single"
      aria-label={label}
      value={value}
      // One is always chosen: a click on it changes nothing.
      onValueChange={(next) => next !== "" && onChange(next as T)}
      className="inline-flex overflow-hidden rounded-lg border border-line"
    >
      {options.map(([option, words]) => (
        <Primitive.Item
          key={option}
          value={option}
          aria-label={nameOf?.(option)}
          className="border-l border-line px-3 py-1 first:border-l-0 hover:bg-water data-[state=on]:bg-action data-[state=on]:text-on-action focus-visible:-outline-offset-2"
        >
          {words}
        </Primitive.Item>
      ))}
    </Primitive.Root>
  );
}
