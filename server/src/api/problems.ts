import type { ErrorRequestHandler, RequestHandler, Response } from "express";
import type { Problem } from "@busy-harbor/core";
import { schemaProblem } from "@busy-harbor/core";
import type { ProblemDocument } from "@busy-harbor/core/contract";
import type { Logger } from "pino";
import { ZodError } from "zod";
import { storageFault } from "../store/faults.ts";

interface Extras {
  readonly detail?: string;
  readonly problems?: readonly Problem[];
  /** The study as it stands, its document as text. */
  readonly current?: { readonly revision: number; readonly text: string };
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
export const gone = (what: string): HttpProblem =>
  new HttpProblem(410, "deleted", `This ${what} was deleted.`, { detail: "Restore it from the home page." });

function toProblem(error: unknown): HttpProblem | undefined {
  if (error instanceof HttpProblem) return error;
  if (error instanceof ZodError) {
    return new HttpProblem(400, "bad-request", "The request does not have the form it should.", {
      problems: error.issues.slice(0, 200).map(schemaProblem),
    });
  }
  if (error instanceof Error && "type" in error) {
    if (error.type === "entity.too.large") return new HttpProblem(413, "too-large", "The request is too large.");
    if (error.type === "entity.parse.failed")
      return new HttpProblem(400, "not-json", "The request is not JSON text.", { detail: error.message });
  }
  const fault = storageFault(error);
  if (fault) return new HttpProblem(507, "no-room", "The server cannot keep it.", { detail: fault });
  // What the libraries refuse: an address that cannot be decoded, an unknown encoding or character set, bytes that
  // are not what they say.
  const status = error instanceof Error && "status" in error ? Number(error.status) : 0;
  if (status >= 400 && status < 500)
    return new HttpProblem(status, "bad-request", "The request cannot be read.", { detail: (error as Error).message });
  return undefined;
}

/** Answers every error as a problem document; what was not foreseen is logged and named no further. */
export const problemAnswers =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    // Who went away in the middle of a request hears no answer.
    if (request.destroyed && !request.complete) {
      response.destroy();
      return;
    }
    const problem = toProblem(error) ?? new HttpProblem(500, "internal", "Something went wrong on the server.");
    if (problem.status === 500) log.error({ err: error, url: request.originalUrl }, "request failed");
    send(response, problem);
  };

function send(response: Response, { status, type, message: title, extras: { current, ...extras } }: HttpProblem): void {
  const body = JSON.stringify({ type: `urn:busy-harbor:${type}`, title, status, ...extras } satisfies Omit<
    ProblemDocument,
    "current" | "problems"
  > &
    Extras);
  const whole = current
    ? `${body.slice(0, -1)},"current":{"revision":${current.revision},"study":${current.text}}}`
    : body;
  response.status(status).type("application/problem+json").send(whole);
}

/** Answers who asks too often; when to ask again stands in the head. */
export const tooMany: RequestHandler = (_request, response) =>
  send(
    response,
    new HttpProblem(429, "too-many-requests", "Too many requests at once.", { detail: "Ask again in a few seconds." }),
  );

export const noSuchPath: RequestHandler = (request) => {
  throw new HttpProblem(404, "not-found", `There is nothing at ${request.method} ${request.path}.`);
};
