import { useStudy } from "../state/study.ts";

const WORDS = {
  frame: [
    "Frame",
    "Boundary, assumptions and deciding measures will be kept here. Until then, write down the question, and describe each design in the note on its Build card.",
  ],
  check: [
    "Check",
    "Comparison with hand calculation, conservation and known formulas will stand here. Until then, problems are listed on the Build card, and Measure shows utilizations and lines to compare with your own calculation.",
  ],
  tell: [
    "Tell",
    "A report that stays linked to its runs will be written here. Until then, export the study file from the home page, and take figures from Measure and Compare.",
  ],
} as const;

/** A stage that is not built yet: one honest sentence on what to do meanwhile. */
export function Later({ stage }: { stage: keyof typeof WORDS }) {
  const [name, words] = WORDS[stage];
  return (
    <main className="mx-auto flex w-full max-w-xl grow flex-col justify-center p-8 pb-40">
      <h1 className="pb-2 text-xl">{name}</h1>
      <p className="text-base text-soft">{words}</p>
      {stage === "frame" && <Question />}
    </main>
  );
}

function Question() {
  const question = useStudy((s) => s.history?.present.question ?? "");
  const change = useStudy((s) => s.change);
  return (
    <label className="block pt-6">
      <span className="block pb-1 font-semibold">The question</span>
      <textarea
        className="field text-base"
        rows={4}
        maxLength={4000}
        value={question}
        onChange={(event) => change("Change the question", (s) => void (s.question = event.target.value), "question")}
      />
    </label>
  );
}
