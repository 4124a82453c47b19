import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { must } from "./run.mjs";

const here = (name) => {
  const found = spawnSync("which", [name], { encoding: "utf8" });
  return found.status === 0 ? found.stdout.trim() : undefined;
};

/**
 * Paths of Chromium and ChromeDriver; installs them from Debian's packages where they are absent and that can be
 * done.
 */
export async function ensureChromium() {
  const find = () => ({
    chromium: process.env.CHROMIUM ?? here("chromium"),
    driver: process.env.CHROMEDRIVER ?? here("chromedriver"),
  });
  let { chromium, driver } = find();
  if (!chromium || !driver) {
    if (!existsSync("/etc/debian_version") || process.getuid?.() !== 0) {
      console.error(
        "The interface tests need Chromium and ChromeDriver. Install them (on Debian: apt-get install chromium chromium-driver), or name them in CHROMIUM and CHROMEDRIVER.",
      );
      process.exit(1);
    }
    console.log("Installing Chromium and ChromeDriver from Debian's packages …");
    const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
    await must("apt-get", ["update", "-qq"], { env });
    await must("apt-get", ["install", "-y", "-qq", "--no-install-recommends", "chromium", "chromium-driver"], {
      env,
      stdio: ["ignore", "ignore", "inherit"],
    });
    ({ chromium, driver } = find());
  }
  return { CHROMIUM: chromium, CHROMEDRIVER: driver };
}
