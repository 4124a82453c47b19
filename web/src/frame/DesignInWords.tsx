import {
  type Compilation,
  type Design,
  type DesignParagraph,
  designText,
  designWords,
  type Study,
  type WordsChange,
  wordsChanged,
} from "@busy-harbor/core";
import { Copy } from "lucide-react";
import { useMemo, useState } from "react";
import { compiled } from "../state/compiled.ts";
import { announce } from "../ui/announce.ts";
import { Choice } from "../ui/Choice.tsx";

/** The design on screen in sentences, so that the people of the real system can say what is not so. */
export function DesignInWords({
  study,
  design,
  compilation,
}: {
  study: Study;
  design: Design;
  compilation: Compilation | undefined;
}) {
  const others = study.designs.filter(({ id }) => id !== design.id);
  const copiedFrom = others.find(({ id }) => id === design.copiedFrom)?.id;
  const [picked, setPicked] = useState<string>();
  const against = others.find(({ id }) => id === (picked ?? copiedFrom));
  const own = useMemo(() => (compilation ? designWords(compilation.model) : []), [compilation]);
  const { changes, missing } = useMemo(
    () =>
      against
        ? wordsChanged(own, designWords(compiled(study, against.id).model))
        : { changes: new Map<string, WordsChange>(), missing: [] },
    [own, study, against],
  );
  const copy = () =>
    navigator.clipboard.writeText(designText(design.name, own)).then(
      () => announce(`${design.name} copied as text.`),
      () => announce("The browser does not let text be copied here.", true),
    );
  return (
    <section aria-labelledby="in-words" className="min-w-0">
      <div className="flex items-center gap-2 pb-2">
        <h2 id="in-words" className="min-w-0 grow truncate font-semibold">
          {design.name}, in words
        </h2>
        <button className="button" onClick={() => void copy()}>
          <Copy size={14} /> Copy
        </button>
      </div>
      {others.length > 0 && (
        <label className="flex items-center gap-2 pb-2 text-soft">
          <span className="shrink-0">Marked where it differs from</span>
          <Choice
            label="Marked where it differs from"
            value={against?.id ?? ""}
            options={[{ value: "", label: "nothing" }, ...others.map(({ id, name }) => ({ value: id, label: name }))]}
            onChange={setPicked}
          />
        </label>
      )}
      {against && (
        <p className="pb-2 text-xs text-soft" data-testid="words-differ">
          {changes.size === 0 && missing.length === 0
            ? `It reads the same as ${against.name}.`
            : `${changes.size} ${changes.size === 1 ? "paragraph differs" : "paragraphs differ"} from ${against.name}${missing.length > 0 ? `, which also has ${missing.map(({ title }) => title).join(", ")}` : ""}.`}
        </p>
      )}
      <dl className="space-y-2" data-testid="in-words">
        {own.map((one) => (
          <Paragraph key={one.id} of={one} change={changes.get(one.id)} />
        ))}
      </dl>
    </section>
  );
}

const CHANGES: Readonly<Record<WordsChange, string>> = { new: "new", changed: "differs" };

function Paragraph({ of: { title, kind, phrases }, change }: { of: DesignParagraph; change: WordsChange | undefined }) {
  return (
    <div
      className={`rounded-md border-l-[3px] px-3 py-1.5 ${change ? "border-amber bg-water" : "border-line bg-sheet"}`}
    >
      <dt className="flex items-baseline gap-2">
        <span className="font-semibold">{title}</span>
        <span className="text-xs text-soft">{kind}</span>
        {change && <span className="ml-auto text-xs font-medium">{CHANGES[change]}</span>}
      </dt>
      <dd className="leading-[1.5] wrap-anywhere whitespace-pre-line">
        {phrases.map((p, i) =>
          typeof p === "string" ? (
            p
          ) : (
            <strong key={i} className="font-semibold">
              {p.strong}
            </strong>
          ),
        )}
      </dd>
    </div>
  );
}
