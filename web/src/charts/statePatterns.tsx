import { UNIT, UNIT_KEYS } from "@busy-harbor/core";

const FILLS: Readonly<Record<keyof typeof UNIT, string>> = {
  idle: "var(--color-sheet)",
  settingUp: "url(#state-settingUp)",
  busy: "var(--color-busy)",
  needing: "url(#state-needing)",
  blocked: "url(#state-blocked)",
  down: "url(#state-down)",
  offShift: "url(#state-offShift)",
  walking: "url(#state-walking)",
  returning: "url(#state-returning)",
  awaiting: "url(#state-awaiting)",
};

/** Colour and pattern of each state, as on the floor, by the state's number. */
export const STATE_FILLS = UNIT_KEYS.map((key) => FILLS[key]);

/** The patterns that these fills name: once in a drawing. */
export const StatePatterns = () => (
  <defs>
    <Pattern id="settingUp" size={4} colour="var(--color-setting)">
      <path d="M0 2h4" />
    </Pattern>
    <Pattern id="needing" size={5} colour="var(--color-needing)">
      <circle cx={2.5} cy={2.5} r={0.8} />
    </Pattern>
    <Pattern id="blocked" size={5} colour="var(--color-blocked)">
      <path d="M0 5L5 0" />
    </Pattern>
    <Pattern id="down" size={5} colour="var(--color-down)">
      <path d="M0 5L5 0M0 0L5 5" />
    </Pattern>
    <Pattern id="offShift" size={4} colour="var(--color-off)">
      <path d="M2 0v4" />
    </Pattern>
    <Pattern id="walking" size={5} colour="var(--color-busy)">
      <path d="M0 5L5 0" />
    </Pattern>
    <Pattern id="returning" size={5} colour="var(--color-soft)">
      <path d="M0 0L5 5" />
    </Pattern>
    <Pattern id="awaiting" size={5} colour="var(--color-needing)">
      <path d="M0 0L5 5" />
    </Pattern>
  </defs>
);

function Pattern({
  id,
  size,
  colour,
  children,
}: {
  id: string;
  size: number;
  colour: string;
  children: React.ReactNode;
}) {
  return (
    <pattern id={`state-${id}`} width={size} height={size} patternUnits="userSpaceOnUse">
      <rect width={size} height={size} fill={colour} opacity={0.22} />
      <g stroke={colour} fill={colour} strokeWidth={1.1}>
        {children}
      </g>
    </pattern>
  );
}
