/** Hands a text to the person as a file. */
export const saveFile = (name: string, text: string, type: string): void => saveBlob(name, new Blob([text], { type }));

/** Hands bytes to the browser to keep as a file. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** What an XLSX file is. */
export const XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
