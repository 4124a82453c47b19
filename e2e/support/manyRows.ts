import { build } from "esbuild";
import { readdirSync, readFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";

/** Serves a page of nothing but a grid of 100,000 rows and 12 columns, in the built interface's look. */
export async function serveManyRows(): Promise<{ url: string; close(): Promise<void> }> {
  const { outputFiles } = await build({
    entryPoints: ["web/test/pages/manyRows.tsx"],
    bundle: true,
    write: false,
    format: "iife",
    jsx: "automatic",
    minify: true,
    define: { "process.env.NODE_ENV": '"production"', "import.meta.env.DEV": "false" },
    logLevel: "error",
  });
  const assets = "web/dist/assets";
  const css = readdirSync(assets)
    .filter((name) => name.endsWith(".css"))
    .map((name) => readFileSync(join(assets, name), "utf8"))
    .join("\n");
  const html = `<!doctype html><html lang="en"><title>Many rows</title><style>${css}</style><body><div id="root"></div><script>${outputFiles[0].text.replace(/<\/script/g, "<\\/script")}</script>`;
  const server = createServer((_request, response) => {
    response.setHeader("content-type", "text/html; charset=utf-8");
    response.end(html);
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`,
    close: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
