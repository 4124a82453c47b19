/** Characters that no sheet's name has, and its greatest length. */
const FORBIDDEN = /[\\/?*[\]:]/;
const LONGEST = 31;

/** Why a text cannot be a sheet's name; undefined where it can. */
export const sheetNameRefusal = (name: string): string | undefined =>
  name.trim() === "" || name.length > LONGEST || FORBIDDEN.test(name) || /^'|'$/.test(name)
    ? `A sheet's name has 1 to ${LONGEST} characters, and none of \\ / ? * [ ] :`
    : undefined;
