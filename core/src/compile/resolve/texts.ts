/** Texts by numbers, in the order in which they are met. */
export function makeTexts() {
  const numbers = new Map<string, number>();
  const all: string[] = [];
  const intern = (text: string): number => {
    let number = numbers.get(text);
    if (number === undefined) {
      numbers.set(text, (number = all.length));
      all.push(text);
    }
    return number;
  };
  return { intern, textOf: (number: number) => all[number] ?? "", all };
}
