/** Why a drawing cannot be taken, in words for the person who chose it, with what to do instead. */
export class DrawingProblem extends Error {
  constructor(
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

const OPEN_FORMATS = "Save it as DXF (text), SVG, PNG or JPEG, and add that.";
export const refuse = (message: string, hint = OPEN_FORMATS): never => {
  throw new DrawingProblem(message, hint);
};
