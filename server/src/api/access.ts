import type { RequestHandler } from "express";
import { HttpProblem } from "./problems.ts";

const LOCAL = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/**
 * Answers this machine's own pages only: a foreign Host (a name that was made to
 * point here) or a foreign Origin (another site's page) is refused.
 */
export const localOnly: RequestHandler = (request, _response, next) => {
  const { host = "", origin } = request.headers;
  if (!LOCAL.test(host)) throw new HttpProblem(403, "foreign-host", "This server answers only to its own address.");
  if (origin !== undefined && !sameHost(origin, host))
    throw new HttpProblem(403, "foreign-origin", "Requests from other sites are refused.");
  next();
};

function sameHost(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}
