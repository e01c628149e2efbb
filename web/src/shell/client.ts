import { MB, type AnswerOf, type BodyOf, type InputsOf, type Operation } from '@dravex/contract';
import { ApiProblem, request, sendFile, type Patience, type Sending } from './api.ts';
import { TEXTS } from './texts.ts';

/** What comes after the address: the body, where the operation takes one, and how patient it is. */
export type Rest<O extends Operation> =
  BodyOf<O> extends undefined
    ? [body?: undefined, patience?: Patience]
    : [body: BodyOf<O>, patience?: Patience];

/**
 * The address of a request below `/api`: what the path leaves open goes into it, everything else
 * becomes the query.
 */
export function addressOf<O extends Operation>(operation: O, inputs: InputsOf<O>): string {
  const query = new URLSearchParams();
  let { path }: { path: string } = operation;
  for (const [name, value] of Object.entries(inputs as Record<string, unknown>)) {
    if (value === undefined) continue;
    const place = `{${name}}`;
    if (path.includes(place)) path = path.replace(place, () => encodeURIComponent(String(value)));
    else query.set(name, String(value));
  }
  return query.size > 0 ? `${path}?${query.toString()}` : path;
}

/**
 * Asks the server for what an operation of the contract describes.
 * @param inputs what the path leaves open, and the query
 * @throws ApiProblem in the server's words; see {@link request}
 */
export function call<O extends Operation>(
  operation: O,
  inputs: InputsOf<O>,
  ...[body, patience]: Rest<O>
): Promise<AnswerOf<O>> {
  const method = operation.method.toUpperCase();
  return request(method, addressOf(operation, inputs), body as object | undefined, patience);
}

/** The same for an operation that takes a file, with how much of it is sent; see {@link sendFile}. */
export function callWithFile<O extends Operation>(
  operation: O,
  inputs: InputsOf<O>,
  file: Blob,
  sending?: Sending,
): Promise<AnswerOf<O>> {
  const most = operation.file?.largest ?? 0;
  // Nobody waits for an hour to be told that it was too much.
  if (file.size > most) {
    const inMegabytes = (bytes: number): string => `${Math.ceil(bytes / MB).toLocaleString()} MB`;
    const said = TEXTS.fileHasUpToAre(inMegabytes(file.size), inMegabytes(most));
    return Promise.reject(new ApiProblem(413, said));
  }
  return sendFile(addressOf(operation, inputs), file, sending);
}
