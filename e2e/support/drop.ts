import type { Person } from "./browser.ts";

/** Drops a file on the floor, as from a folder's window. */
export const dropFile = (person: Person, name: string, content: Buffer | string): Promise<unknown> =>
  person.driver.executeScript(
    `const bytes = Uint8Array.from(atob(arguments[1]), (c) => c.charCodeAt(0));
     const data = new DataTransfer();
     data.items.add(new File([bytes], arguments[0]));
     document.querySelector("[data-testid=floor]").dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));`,
    name,
    Buffer.from(content).toString("base64"),
  );

/**
 * Makes a large DXF file of as many lines in the page itself, as sending it there would take longer than reading it,
 * and drops it.
 */
export const dropLargeDxf = (person: Person, name: string, entities: number): Promise<unknown> =>
  person.driver.executeScript(
    `const parts = ["0\\nSECTION\\n2\\nHEADER\\n9\\n$INSUNITS\\n70\\n4\\n0\\nENDSEC\\n0\\nSECTION\\n2\\nENTITIES\\n"];
     for (let i = 0; i < arguments[1]; i++) {
       const [x, y] = [(i % 500) * 200, Math.floor(i / 500) * 200];
       parts.push("0\\nLINE\\n5\\n" + i.toString(16) + "\\n100\\nPlanEntity\\n8\\nLayer " + (i % 20) + "\\n100\\nPlanLine\\n10\\n" + x + ".25\\n20\\n" + y + ".125\\n11\\n" + (x + 150) + ".5\\n21\\n" + (y + 120) + ".75\\n");
     }
     parts.push("0\\nENDSEC\\n0\\nEOF\\n");
     const file = new File(parts, arguments[0]);
     const data = new DataTransfer();
     data.items.add(file);
     window.droppedAt = performance.now();
     document.querySelector("[data-testid=floor]").dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
     return file.size;`,
    name,
    entities,
  );
