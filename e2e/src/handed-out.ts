import { expect, type Desk } from './ondwell.ts';

/** A sheet of all that the budget plans, by channel, for somebody. @returns its id */
export async function handedOut(
  { page, origin }: Desk,
  title: string,
  whose: string,
): Promise<string> {
  const api = `${origin}/api/workspaces/1`;
  const { csrfToken } = (await (await page.request.get(`${origin}/api/session`)).json()) as {
    csrfToken: string;
  };
  const people = (await (await page.request.get(`${api}/people`)).json()) as {
    id: number;
    name: string;
  }[];
  const headers = { 'x-csrf-token': csrfToken };
  const made = await page.request.post(`${api}/sheets`, {
    headers,
    data: {
      ...{ title, version: 1, person: people.find(({ name }) => name === whose)?.id ?? 0 },
      ...{ scope: [], rows: ['channel'], measure: 'revenue', due: null },
    },
  });
  expect(made.ok(), await made.text()).toBe(true);
  const { id } = (await made.json()) as { id: string };
  const out = await page.request.post(`${api}/sheets/${id}/state`, {
    headers,
    data: { state: 'handedOut' },
  });
  expect(out.ok(), await out.text()).toBe(true);
  return id;
}
