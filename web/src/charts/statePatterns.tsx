/** Colour and pattern of each state, as on the floor. */
export const STATE_FILLS = [
  "var(--color-sheet)",
  "url(#state-settingUp)",
  "var(--color-busy)",
  "url(#state-needing)",
  "url(#state-blocked)",
  "url(#state-down)",
  "url(#state-offShift)",
];

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
