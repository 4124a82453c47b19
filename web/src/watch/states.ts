import { UNIT } from "@busy-harbor/core";

/** States in the order in which they are told. */
export const STATE_ORDER: readonly number[] = [
  UNIT.busy,
  UNIT.settingUp,
  UNIT.needing,
  UNIT.awaiting,
  UNIT.walking,
  UNIT.returning,
  UNIT.blocked,
  UNIT.down,
  UNIT.offShift,
  UNIT.idle,
];
