import { type Design, everyStep, ruleTitle } from "@busy-harbor/core";

/** Who calls a procedure, each a way there. */
export function WhereUsed({
  procedure,
  design,
  onShow,
}: {
  procedure: string;
  design: Design;
  onShow: (id: string) => void;
}) {
  const calls = (steps: Parameters<typeof everyStep>[0]) =>
    [...everyStep(steps)].some(
      (step) => step.do === "call" && (step as { procedure?: string }).procedure === procedure,
    );
  const users = [
    ...(design.rules ?? [])
      .filter(({ steps }) => calls(steps))
      .map((rule) => [rule.id, ruleTitle(rule, design)] as const),
    ...(design.procedures ?? []).filter(({ steps }) => calls(steps)).map(({ id, name }) => [id, name] as const),
  ];
  return (
    <section aria-label="Where used" className="border-t border-line pt-2">
      <h3 className="caps pb-1">Where used</h3>
      {users.length === 0 && <p className="text-xs text-soft">Nothing calls it yet.</p>}
      {users.map(([id, title]) => (
        <button key={id} className="block w-full truncate py-0.5 text-left text-action" onClick={() => onShow(id)}>
          {title}
        </button>
      ))}
    </section>
  );
}
