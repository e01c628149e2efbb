/** A plan file as large as a large company's, made of the sample's. */
import type { PlanFile } from '@dravex/contract';

/**
 * The file with as many inputs as are asked for: what the sample's products have, other products
 * have too.
 */
export function largePlan(file: PlanFile, inputs: number): PlanFile {
  const { dimensions, assumptions } = file.plan;
  const ids = dimensions.flatMap(({ members }) => members.map(({ id }) => id));
  const [product] = dimensions.filter(({ code }) => code === 'product');
  const [model] = product?.members.filter(({ code }) => code === 'tap-one') ?? [];
  if (!product || !model) throw new Error('The sample has a product tap-one');
  const products = new Set(product.members.map(({ id }) => id));
  // One input for each driver and scope that names a product, whichever product it is.
  const patterns = new Map(
    assumptions.flatMap((one) => {
      const others = one.scope.filter((id) => !products.has(id));
      return others.length < one.scope.length ? [[`${one.driver} ${others.join()}`, one]] : [];
    }),
  );
  const members = [...product.members];
  const all = [...assumptions];
  let memberId = Math.max(...ids);
  let id = Math.max(...assumptions.map((one) => one.id));
  while (all.length < inputs) {
    const made = (memberId += 1);
    members.push({ ...model, id: made, code: `made-${made}`, name: `Made ${made}` });
    for (const one of patterns.values()) {
      const scope = one.scope.map((of) => (products.has(of) ? made : of));
      all.push({ ...one, id: (id += 1), scope });
    }
  }
  return {
    ...file,
    plan: {
      ...file.plan,
      assumptions: all,
      dimensions: dimensions.map((one) => (one === product ? { ...one, members } : one)),
    },
  };
}
