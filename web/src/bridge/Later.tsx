const WORDS = {
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
    </main>
  );
}
