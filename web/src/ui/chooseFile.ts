/** Lets a person choose a file of some endings; undefined when they leave it. */
export function chooseFile(accept: string): Promise<File | undefined> {
  return new Promise((resolve) => {
    const input = document.createElement("input");
    const done = (file: File | undefined) => {
      input.remove();
      resolve(file);
    };
    input.type = "file";
    input.accept = accept;
    // In the page, so that tools which act for a person can reach it.
    input.hidden = true;
    input.dataset.testid = "file-choice";
    document.querySelectorAll("[data-testid=file-choice]").forEach((left) => left.remove());
    document.body.append(input);
    input.addEventListener("change", () => done(input.files?.[0]));
    input.addEventListener("cancel", () => done(undefined));
    input.click();
  });
}
