import type { FigurePosture } from "@busy-harbor/core";

/** A person from the side: limbs are broad lines, what is used or carried thinner ones, from left to right. */
interface Drawing {
  /** Pixels across; all stand on a ground 34 below the top. */
  readonly width: number;
  readonly head: readonly [x: number, y: number];
  readonly limbs: string;
  readonly things?: string;
}

const DRAWINGS: Readonly<Record<FigurePosture, Drawing>> = {
  standing: { width: 18, head: [9, 5], limbs: "M9 11V21 M9 21L7.6 33 M9 21L10.6 33 M9 12L6.4 20 M9 12L11.8 20" },
  walking: {
    width: 22,
    head: [12, 5],
    limbs: "M11.6 11L10.6 21 M10.6 21L5 33 M10.6 21L14 26L17 33 M11.4 12L6.4 19 M11.4 12L16.6 18.4",
  },
  sitting: {
    width: 24,
    head: [9.6, 9],
    limbs: "M9 15V24.4 M9 24.4H17V33 M9 16L11.6 21L16 21.6",
    things: "M4.6 14V33.6 M4.6 27.6H14.6V33.6",
  },
  lying: {
    width: 40,
    head: [7, 22],
    limbs: "M12.4 24.4H22 M22 24.4H35 M14 24.4L20 21.6L24 23",
    things: "M2 17V33.6 M2 28H38V33.6",
  },
  pushing: {
    width: 36,
    head: [9.6, 5.6],
    limbs: "M8.6 11.4L6.6 21 M6.6 21L2.6 33 M6.6 21L11 26L12 33 M8.6 13L13 17L18 16.4",
    things:
      "M17.6 16.4L20.6 27H31V18 M20.6 27V29.4 M22 31.4m-2.2 0a2.2 2.2 0 1 0 4.4 0a2.2 2.2 0 1 0-4.4 0 M30 31.4m-2.2 0a2.2 2.2 0 1 0 4.4 0a2.2 2.2 0 1 0-4.4 0",
  },
  carrying: {
    width: 28,
    head: [10.6, 5],
    limbs: "M10 11L9.6 21 M9.6 21L4.6 33 M9.6 21L13 26L15.6 33 M10 12.4L13 17.4L19 18",
    things: "M15.4 8.4H25.4V16.6H15.4Z M15.4 11.6H25.4",
  },
  typing: {
    width: 36,
    head: [9.6, 9],
    limbs: "M9 15V24.4 M9 24.4H17V33 M9 16L13 20L20 18.6",
    things: "M4.6 14V33.6 M4.6 27.6H14.6V33.6 M17.6 21H34 M32 21V33.6 M19 19.6H25 M28.6 20.6L31.4 10.4",
  },
};

/** One person from the side in a posture. */
export function Figure({ posture, number }: { readonly posture: FigurePosture; readonly number: number }) {
  const { width, head, limbs, things } = DRAWINGS[posture];
  return (
    <svg viewBox={`0 0 ${width} 36`} width={width} height={36} data-figure={number} aria-hidden>
      {things && (
        <path
          d={things}
          fill="none"
          stroke="var(--color-soft)"
          strokeWidth={1.4}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      )}
      <path
        d={limbs}
        fill="none"
        stroke="var(--color-ink)"
        strokeWidth={3.4}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <circle
        cx={head[0]}
        cy={head[1]}
        r={3.6}
        fill="var(--color-action)"
        stroke="var(--color-ink)"
        strokeWidth={1.2}
      />
    </svg>
  );
}
