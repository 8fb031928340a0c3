import { write } from '#core/text/words';
import { claimsOf } from '#features/ranking/model/claims';
import type { RailMaterial } from '#features/ranking/model/placeTypes';
import { Table } from '#ui/Table.tsx';

/** The best ones are told. */
const MOST = 60;

/** Claimed conductivities beside what the ranking allows, with why they differ. */
export function ClaimsTable({ materials }: { materials: RailMaterial[] }) {
  const claims = claimsOf(materials);
  const digits = (v: number) => (v < 10 ? 1 : 0);
  if (claims.length === 0)
    return (
      <p className="text-soft">
        No material has a claimed conductivity and a bond line or thickness on its sheet.{' '}
        <a href="/shelf/materials">Materials on the shelf</a>
      </p>
    );
  return (
    <>
      <Table
        label="Claims against measurements"
        least="min-w-[680px]"
        rows={claims.slice(0, MOST)}
        keyOf={(c) => c.material}
        columns={[
          { head: 'Material', names: true, className: 'font-normal', cell: (c) => c.name },
          { head: 'Claimed / W/(m·K)', figure: true, cell: (c) => write(c.claimed_w_per_mk, digits(c.claimed_w_per_mk)) },
          { head: 'Bond line / µm', figure: true, cell: (c) => write(c.bond_line_um, 0) },
          { head: 'By the claim / mm²·K/W', figure: true, cell: (c) => write(c.claimed_mm2k_per_w, 1) },
          {
            head: 'Effectively at most / W/(m·K)',
            figure: true,
            cell: (c) => (c.at_most === null ? 'no bound' : write(c.at_most, digits(c.at_most))),
          },
          {
            head: 'What that means',
            cell: (c) =>
              c.at_most === null
                ? 'The best one: nothing bounds it from above.'
                : c.at_most_high !== null && c.at_most_high < c.claimed_w_per_mk
                  ? `Less than claimed, surely: at most ${write(c.at_most_high, digits(c.at_most_high))}.`
                  : c.at_most < c.claimed_w_per_mk
                    ? 'Less than claimed, but not surely.'
                    : 'The claim is possible.',
          },
        ]}
      />
      <p className="mt-2 max-w-3xl text-soft">
        The ranking knows differences only: the best material is taken at its maker’s word, and every other conducts at most its bond line
        over what it resists more. Claims are higher mostly because they leave out the contact on both faces, hold for a thinner bond line
        than a cooler presses, or were measured on a thick block under high pressure.
      </p>
    </>
  );
}
