/** A server that answers as it is told, and what was asked of it. */
export interface Asked {
  readonly method: string;
  /** Below `/api`, with its query. */
  readonly path: string;
  readonly body: unknown;
  readonly headers: Readonly<Record<string, string>>;
}
type Reply = { readonly status?: number; readonly body?: unknown };

/**
 * Answers requests of the page by `reply`, until the returned function is called.
 * @returns what was asked so far, and how to end it
 */
export function answering(reply: (asked: Asked) => Reply | Promise<Reply>): {
  readonly asked: Asked[];
  end(): void;
} {
  const asked: Asked[] = [];
  const before = globalThis.fetch;
  const fake = async (url: string, options: RequestInit = {}): Promise<Response> => {
    const one: Asked = {
      method: options.method ?? 'GET',
      path: url.replace(/^\/api/, ''),
      body: typeof options.body === 'string' ? (JSON.parse(options.body) as unknown) : undefined,
      headers: options.headers as Record<string, string>,
    };
    asked.push(one);
    const { status = 200, body } = await reply(one);
    return new Response(status === 204 ? null : JSON.stringify(body ?? {}), { status });
  };
  Object.assign(globalThis, { fetch: fake });
  return { asked, end: () => Object.assign(globalThis, { fetch: before }) };
}

/** A refusal as the server words it. */
export const refusal = (
  status: number,
  detail: string,
  more: object = {},
): { status: number; body: unknown } => ({
  status,
  body: { type: 'about:blank', title: 'Refused', status, detail, ...more },
});
