/** Sales lines by the million, in the sample company's own terms. */
import { createWriteStream } from 'node:fs';
import { once } from 'node:events';
import { monthText, monthFrom } from '@dravex/core';

const CHANNELS = ['web', 'stores', 'trade', 'office'];
const REGIONS = ['north', 'coast', 'lakes', 'capital'];
const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';

/** Writes a CSV of sales lines over 42 months, the same every time. */
export async function writeLines(
  path: string,
  count: number,
  products: readonly string[],
  groups: readonly string[],
): Promise<void> {
  const file = createWriteStream(path);
  file.write(`${HEADER}\n`);
  const first = monthFrom('2023-04');
  for (let i = 0; i < count; i += 1) {
    const month = monthText(first + ((i * 7) % 42));
    const day = String(1 + ((i * 11) % 28)).padStart(2, '0');
    const quantity = 1 + (i % 9);
    const amount = (quantity * (19 + (i % 83))).toFixed(2);
    const line = [
      `${month}-${day}`,
      CHANNELS[i % 4],
      products[i % products.length],
      groups[Math.floor(i / 3) % groups.length],
      REGIONS[Math.floor(i / 7) % 4],
      quantity,
      amount,
      (Number(amount) * 0.55).toFixed(2),
      `D${Math.floor(i / 5)}`,
      1 + (i % 5),
      '',
      '',
    ].join(',');
    if (!file.write(`${line}\n`)) await once(file, 'drain');
  }
  file.end();
  await once(file, 'finish');
}
