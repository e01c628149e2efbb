import { problemSchema, type FieldError } from '@dravex/contract';

/** An answer of the server that is not success, in its own words. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly errors: readonly FieldError[] = [],
  ) {
    super(detail);
    this.name = 'ApiProblem';
  }
}

let csrfToken = '';

/** Keeps the token that every write has to bring. */
export function setCsrfToken(token: string): void {
  csrfToken = token;
}

type Body = object | Blob | undefined;

/**
 * Sends a request to the API.
 * @param body JSON, or a file that is sent as it is
 * @returns the parsed answer; the caller knows its shape from the contract
 * @throws ApiProblem in the server's words; status 0 when it could not be reached
 */
export async function request<T>(method: string, path: string, body?: Body): Promise<T> {
  const file = body instanceof Blob;
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: {
        'x-csrf-token': csrfToken,
        ...(body === undefined ? {} : { 'content-type': file ? 'text/csv' : 'application/json' }),
      },
      ...(body === undefined ? {} : { body: file ? body : JSON.stringify(body) }),
    });
  } catch {
    throw new ApiProblem(0, 'The server cannot be reached; try again when the connection is back');
  }
  if (response.status === 204) return undefined as T;
  const answer: unknown = await response.json().catch(() => undefined);
  if (response.ok) return answer as T;
  const problem = problemSchema.safeParse(answer).data;
  throw new ApiProblem(
    response.status,
    problem?.detail ?? `The server answered ${response.status}`,
    problem?.errors,
  );
}

/** What went wrong, in words for people. */
export function inWords(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
