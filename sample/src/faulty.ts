/** A file as people really send it: most rows are good, some are not, and each is wrong in its own way. */
import { HEADER } from './sales-lines.ts';

const GOOD = [
  '2026-10-12,web,carafe-brook,households,north,14,497.84,223.55,W202610-9001,1,,',
  '2026-10-12,web,cart-carafe,households,north,31,634.95,201.01,W202610-9001,2,,',
  '2026-10-12,web,tap-duo,households,coast,6,599.27,287.41,W202610-9002,1,,',
  '2026-10-12,stores,carafe-rill,households,coast,48,1622.88,1081.92,R202610-9001,1,ST-CO-004,S04',
  '2026-10-12,stores,cart-carafe,households,lakes,120,1730.52,777.48,R202610-9002,1,ST-LA-002,S07',
  '2026-10-12,trade,sink-base,landlords,capital,9,1379.87,919.91,R202610-9003,1,TR-CA-011,S11',
  '2026-10-12,trade,cart-sink,cafes,capital,22,1117.51,477.02,R202610-9003,2,TR-CA-011,S11',
  '2026-10-12,office,disp-floor,offices,north,2,1492.61,924.77,R202610-9004,1,OF-NO-017,S03',
  '2026-10-12,office,plan-care,offices,north,12,468.00,140.40,R202610-9004,2,OF-NO-017,S03',
];

const FAULTY = [
  // A product code that nobody has.
  '2026-10-12,web,carafe-brok,households,north,3,106.68,47.90,W202610-9003,1,,',
  // A day that does not exist.
  '2026-09-31,stores,tap-one,households,north,20,990.29,688.90,R202610-9005,1,ST-NO-001,S01',
  // No quantity.
  '2026-10-12,trade,sink-pro,cafes,lakes,,595.24,362.96,R202610-9006,1,TR-LA-008,S08',
  // The same document line again.
  '2026-10-12,web,cart-carafe,households,north,31,634.95,201.01,W202610-9001,2,,',
  // An amount with a currency sign.
  '2026-10-12,office,cart-disp,offices,capital,10,$763.00,298.60,R202610-9007,1,OF-CA-005,S12',
  // A family in place of a product.
  '2026-10-12,stores,carafes,households,capital,15,361.50,230.34,R202610-9008,1,ST-CA-003,S10',
  // A region that is not theirs.
  '2026-10-12,web,plan-year,households,island,2,198.00,75.24,W202610-9004,1,,',
  // A year that was typed wrongly.
  '2062-11-02,web,carafe-brook,households,coast,5,177.80,79.85,W202611-9001,1,,',
];

/** Good and faulty rows in turn, as a whole file. */
export function faultyFile(): string {
  const rows = GOOD.flatMap((good, index) => [good, FAULTY[index]]).filter(
    (row) => row !== undefined,
  );
  return `${[HEADER, ...rows].join('\n')}\n`;
}
