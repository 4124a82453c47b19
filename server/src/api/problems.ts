import type { ErrorRequestHandler, RequestHandler } from "express";
import type { Problem, Study } from "@busy-harbor/core";
import { schemaProblem } from "@busy-harbor/core";
import type { ProblemDocument } from "@busy-harbor/core/contract";
import type { Logger } from "pino";
import { ZodError } from "zod";

interface Extras {
  readonly detail?: string;
  readonly problems?: readonly Problem[];
  readonly current?: { readonly revision: number; readonly study: Study };
}

/** An error to be answered as a problem document (RFC 9457). */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    title: string,
    readonly extras: Extras = {},
  ) {
    super(title);
  }
}

export const notFound = (what: string): HttpProblem => new HttpProblem(404, "not-found", `There is no such ${what}.`);
export const gone = (what: string): HttpProblem => new HttpProblem(410, "deleted", `This ${what} was deleted.`, { detail: "Restore it from the home page." });

function toProblem(error: unknown): HttpProblem | undefined {
  if (error instanceof HttpProblem) return error;
  if (error instanceof ZodError) {
    return new HttpProblem(400, "bad-request", "The request does not have the form it should.", { problems: error.issues.slice(0, 200).map(schemaProblem) });
  }
  if (error instanceof Error && "type" in error) {
    if (error.type === "entity.too.large") return new HttpProblem(413, "too-large", "The request is too large.");
    if (error.type === "entity.parse.failed") return new HttpProblem(400, "not-json", "The request is not JSON text.", { detail: error.message });
  }
  return undefined;
}

/** Answers every error as a problem document; what was not foreseen is logged and named no further. */
export const problemAnswers = (log: Logger): ErrorRequestHandler => (error: unknown, request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = toProblem(error) ?? new HttpProblem(500, "internal", "Something went wrong on the server.");
  if (problem.status === 500) log.error({ err: error, url: request.originalUrl }, "request failed");
  const { status, type, message: title, extras } = problem;
  const body: ProblemDocument = { type: `urn:busy-harbor:${type}`, title, status, ...(extras as Omit<ProblemDocument, "type" | "title" | "status">) };
  response.status(status).type("application/problem+json").send(JSON.stringify(body));
};

export const noSuchPath: RequestHandler = (request) => {
  throw new HttpProblem(404, "not-found", `There is nothing at ${request.method} ${request.path}.`);
};
