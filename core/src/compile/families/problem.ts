/** What is wrong with a family itself, or with a cell that a member has a setting from. */
export interface FamilyProblem {
  readonly code: string;
  /** The element or entity type of the document, and among which it is. */
  readonly of: { readonly id: string; readonly name: string };
  readonly list: "elements" | "entityTypes";
  readonly field: string;
  readonly message: string;
  readonly hint: string;
}
