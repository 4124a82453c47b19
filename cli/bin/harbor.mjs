#!/usr/bin/env node
// Builds the command line when its sources are newer, then runs it.
import { buildNode } from "../../scripts/lib/build-node.mjs";

await buildNode("cli");
await import("../dist/harbor.mjs");
