/** Keeps a study on a server, as a file that is opened would; gives its id. */
export async function storeStudy({ url }: { readonly url: string }, study: object): Promise<string> {
  const reply = await fetch(`${url}/api/studies`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ study }),
  });
  const { id, ...problem } = (await reply.json()) as { id?: string };
  if (id === undefined) throw new Error(`The study was refused: ${JSON.stringify(problem).slice(0, 2000)}`);
  return id;
}
