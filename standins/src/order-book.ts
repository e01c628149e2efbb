/** The feed of an ERP's order book, simulated: the same documents every time, and faults on request. */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';

/** One line of a document; money in the currency's smallest unit. */
export interface DocumentLine {
  readonly line: number;
  readonly item: string;
  readonly quantity: number;
  readonly net: number;
  readonly cost: number;
}

/** An invoice or a credit note as it stands after a change. */
export interface FeedDocument {
  /** Where it stands in the feed; a correction comes with a later one. */
  readonly sequence: number;
  readonly number: string;
  readonly revision: number;
  readonly kind: 'invoice' | 'creditNote';
  readonly date: string;
  readonly channel: string;
  readonly customer: string;
  readonly group: string;
  readonly region: string;
  readonly lines: readonly DocumentLine[];
}

/** Something that is sold, as the order book has it. */
export interface FeedItem {
  readonly sequence: number;
  readonly code: string;
  readonly name: string;
}

/** A customer, and the group it belongs to from a day on. */
export interface FeedCustomer {
  readonly sequence: number;
  readonly code: string;
  readonly name: string;
  readonly group: string;
  readonly since: string;
}

/** What goes wrong on purpose. */
export interface Faults {
  /** Every so many requests are answered with 500; 0 is never. */
  failEvery: number;
  /** Every so many requests break off in the middle of the answer; 0 is never. */
  breakEvery: number;
  /** How many requests are let through in a second; 0 is all. */
  rateLimit: number;
  /** Nobody is answered at all. */
  down: boolean;
}

export interface OrderBook {
  readonly server: Server;
  readonly faults: Faults;
  readonly documents: readonly FeedDocument[];
  readonly items: readonly FeedItem[];
  readonly customers: readonly FeedCustomer[];
  /** Adds documents that were not there when it started. */
  add(documents: readonly Omit<FeedDocument, 'sequence'>[]): void;
  /** How many requests were answered well. */
  readonly answered: () => number;
}

const ITEMS = ['carafe-brook', 'cart-carafe', 'tap-one', 'cart-tap', 'sink-base', 'cart-sink'];
const PRICES: Readonly<Record<string, number>> = {
  'carafe-brook': 3557,
  'cart-carafe': 2048,
  'tap-one': 7032,
  'cart-tap': 3077,
  'sink-base': 15_332,
  'cart-sink': 6071,
  'cart-mini': 1490,
};
const NAMES: Readonly<Record<string, string>> = {
  'carafe-brook': 'Brook carafe',
  'cart-carafe': 'Carafe cartridge',
  'tap-one': 'Tap One',
  'cart-tap': 'Tap cartridge',
  'sink-base': 'Under-sink Base',
  'cart-sink': 'Under-sink cartridge',
  'cart-mini': 'Mini cartridge',
};
const REGIONS = ['north', 'coast', 'lakes', 'capital'];
const CHANNELS = ['web', 'stores', 'trade'];
const GROUPS = ['households', 'households', 'landlords'];

/** A small generator of numbers from a seed: the feed is the same every time. */
function numbers(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

/**
 * The documents of the first days of October: invoices, some credit notes, one item that nobody has
 * told Dravex of, and corrections of documents that came before.
 */
export function sampleDocuments(count = 240): FeedDocument[] {
  const next = numbers(20_261_012);
  const documents: FeedDocument[] = [];
  for (let n = 1; documents.length < count; n += 1) {
    const place = next(CHANNELS.length);
    const lines = Array.from({ length: 1 + next(3) }, (_, at): DocumentLine => {
      const item = n % 97 === 0 && at === 0 ? 'cart-mini' : (ITEMS[next(ITEMS.length)] ?? '');
      const quantity = 1 + next(8);
      const net = Math.round(quantity * (PRICES[item] ?? 1000) * (1 - next(12) / 100));
      return { line: at + 1, item, quantity, net, cost: Math.round(net * 0.52) };
    });
    const credit = n % 19 === 0;
    documents.push({
      sequence: documents.length + 1,
      number: `F-${String(n).padStart(5, '0')}`,
      revision: 1,
      kind: credit ? 'creditNote' : 'invoice',
      date: `2026-10-${String(1 + next(12)).padStart(2, '0')}`,
      channel: CHANNELS[place] ?? '',
      customer: `C-${100 + next(60)}`,
      group: GROUPS[place] ?? '',
      region: REGIONS[next(REGIONS.length)] ?? '',
      lines: credit
        ? lines.map((line) => ({
            ...line,
            quantity: -line.quantity,
            net: -line.net,
            cost: -line.cost,
          }))
        : lines,
    });
    // Now and then somebody finds that an earlier document was wrong.
    if (n % 23 === 0) {
      const earlier = documents[next(documents.length)];
      if (earlier && documents.length < count) {
        documents.push({
          ...earlier,
          sequence: documents.length + 1,
          revision: earlier.revision + 1,
          lines: earlier.lines.map((line) => ({ ...line, quantity: line.quantity + 1 })),
        });
      }
    }
  }
  return documents;
}

/** The items, in the order in which they were entered. */
export function sampleItems(): FeedItem[] {
  return Object.keys(PRICES).map((code, at) => ({
    sequence: at + 1,
    code,
    name: NAMES[code] ?? code,
  }));
}

const PLACES = ['Quay', 'Mill Lane', 'Orchard', 'Old Market', 'Harbour', 'Station'];

/** The customers of documents; each belongs to one group. */
export function sampleCustomers(documents: readonly FeedDocument[]): FeedCustomer[] {
  const codes = [...new Set(documents.map(({ customer }) => customer))].sort();
  return codes.map((code, at) => ({
    sequence: at + 1,
    code,
    name: `${PLACES[at % PLACES.length] ?? ''} ${1 + Math.floor(at / PLACES.length)}`,
    group: at % 4 === 3 ? 'landlords' : 'households',
    since: '2023-04-01',
  }));
}

const MOST_A_PAGE = 100;

/** Makes the service; whoever makes it lets it listen. */
export function orderBook(
  apiKey: string,
  documents: readonly FeedDocument[] = sampleDocuments(),
): OrderBook {
  const list = [...documents];
  const items = sampleItems();
  const customers = sampleCustomers(documents);
  const faults: Faults = { failEvery: 0, breakEvery: 0, rateLimit: 0, down: false };
  let requests = 0;
  let answered = 0;
  let second = 0;
  let inSecond = 0;

  const json = (response: ServerResponse, status: number, body: object): void => {
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(JSON.stringify(body));
  };
  /** What came after a cursor, and whether there is more. */
  const page = <T extends { readonly sequence: number }>(url: URL, all: readonly T[]) => {
    const after = Number(url.searchParams.get('after') ?? 0) || 0;
    const limit = Math.min(MOST_A_PAGE, Math.max(1, Number(url.searchParams.get('limit')) || 50));
    const found = all.filter(({ sequence }) => sequence > after).slice(0, limit);
    const next = found.at(-1)?.sequence ?? after;
    return { found, next, more: all.some(({ sequence }) => sequence > next) };
  };

  const server = createServer((request: IncomingMessage, response) => {
    if (faults.down) {
      request.socket.destroy();
      return;
    }
    requests += 1;
    const now = Math.floor(performance.now() / 1000);
    if (now !== second) {
      second = now;
      inSecond = 0;
    }
    inSecond += 1;
    if (faults.rateLimit > 0 && inSecond > faults.rateLimit) {
      response.setHeader('retry-after', '1');
      json(response, 429, { error: 'too many requests' });
      return;
    }
    if (request.headers['x-api-key'] !== apiKey) {
      json(response, 401, { error: 'the API key is not known' });
      return;
    }
    if (faults.failEvery > 0 && requests % faults.failEvery === 0) {
      json(response, 500, { error: 'something broke' });
      return;
    }
    const url = new URL(request.url ?? '/', 'http://order-book');
    if (faults.breakEvery > 0 && requests % faults.breakEvery === 0) {
      response.writeHead(200, { 'content-type': 'application/json', 'content-length': '100000' });
      response.write('{"documents":[');
      setTimeout(() => request.socket.destroy(), 5);
      return;
    }
    answered += 1;
    if (url.pathname === '/v1/status') {
      json(response, 200, { service: 'order book', changes: list.length });
    } else if (url.pathname === '/v1/items') {
      const { found, ...rest } = page(url, items);
      json(response, 200, { items: found, ...rest });
    } else if (url.pathname === '/v1/customers') {
      const { found, ...rest } = page(url, customers);
      json(response, 200, { customers: found, ...rest });
    } else if (url.pathname === '/v1/documents') {
      const { found, ...rest } = page(url, list);
      json(response, 200, { documents: found, ...rest });
    } else json(response, 404, { error: 'there is nothing here' });
  });
  return {
    server,
    faults,
    documents: list,
    items,
    customers,
    add: (more) => {
      for (const document of more) list.push({ ...document, sequence: list.length + 1 });
    },
    answered: () => answered,
  };
}
