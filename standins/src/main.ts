/** Serves the order book in a process of its own: `node --import tsx standins/src/main.ts`. */
import type { AddressInfo } from 'node:net';
import { orderBook } from './order-book.ts';

const key = process.env['ORDER_BOOK_KEY'] ?? 'a-key-for-trying';
const book = orderBook(key);
Object.assign(book.faults, { failEvery: 17, breakEvery: 31, rateLimit: 20 });
book.server.listen(Number(process.env['ORDER_BOOK_PORT'] ?? 4610), '127.0.0.1', () => {
  process.send?.({ port: (book.server.address() as AddressInfo).port });
});
for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
  process.on(signal, () => process.exit(0));
}
