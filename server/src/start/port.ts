import { StartProblem } from "./startProblem.ts";

const USUAL = 4173;

/** The port that the environment asks for; 0 means any that is free. */
export function portOf(text: string | undefined): number {
  if (text === undefined || text.trim() === "") return USUAL;
  const port = Number(text);
  if (!/^\d+$/.test(text.trim()) || port > 65_535)
    throw new StartProblem(`PORT is "${text}", which is no port: give a whole number from 0 to 65535.`);
  return port;
}
