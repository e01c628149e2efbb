/** A server that answers as it is told, and what was asked of it. */
export interface Asked {
  readonly method: string;
  /** Below `/api`, with its query. */
  readonly path: string;
  readonly body: unknown;
  readonly headers: Readonly<Record<string, string>>;
}
export type Reply = { readonly status?: number; readonly body?: unknown };

/** Who listens to what. */
class Hearing {
  readonly #all = new Map<string, (event: object) => void>();
  addEventListener(name: string, hear: (event: object) => void): void {
    this.#all.set(name, hear);
  }
  tell(name: string, event: object = {}): void {
    this.#all.get(name)?.(event);
  }
}

/** Files are sent by the older way, which tells how far it is: it asks the same server. */
class FileRequest {
  readonly upload = new Hearing();
  readonly #hearing = new Hearing();
  status = 0;
  responseText = '';
  #asked: [method: string, url: string] = ['', ''];
  #stopped = false;
  addEventListener(name: string, hear: (event: object) => void): void {
    this.#hearing.addEventListener(name, hear);
  }
  open(method: string, url: string): void {
    this.#asked = [method, url];
  }
  setRequestHeader(): void {
    // Nobody looks at them here.
  }
  abort(): void {
    this.#stopped = true;
    this.#hearing.tell('abort');
  }
  send(file: Blob): void {
    const [method, url] = this.#asked;
    this.upload.tell('progress', { loaded: file.size, total: file.size });
    void fetch(url, { method }).then(async (answer) => {
      if (this.#stopped) return;
      this.status = answer.status;
      this.responseText = await answer.text();
      this.#hearing.tell('load');
    });
  }
}

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
  Object.assign(globalThis, { fetch: fake, XMLHttpRequest: FileRequest });
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
