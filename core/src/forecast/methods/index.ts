import type { MethodCode } from '../plan.ts';
import type { Method } from './method.ts';
import { volumePrice } from './volume-price.ts';

/** Every method there is. To add one is to add its file and its line here. */
export const METHODS: Readonly<Record<MethodCode, Method>> = { volumePrice };
