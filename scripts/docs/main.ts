import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { measuresPage } from "./measuresPage.ts";

writeFileSync(join(process.cwd(), "docs", "measures.md"), measuresPage());
