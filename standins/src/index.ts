export * from './order-book.ts';
