import { write } from '#core/text/words';
import type { CoolerBuild } from '#features/results/model/coolers/builds';
import { SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { Section, Sentences } from '#ui/Words.tsx';

const FITS: Record<CoolerBuild['fits'], string> = { yes: 'fits', no: 'does not fit', 'not known': 'not known', 'not asked': '' };

/** What stands beside the temperature: size, mass, price, base, whether a cooler fits, and how its fan sounds. */
export function BuildTable({ builds, enclosure }: { builds: CoolerBuild[]; enclosure: string }) {
  const said = (v: number | null, unit: string) => (v === null ? '–' : `${write(v, 0)} ${unit}`);
  const asksFit = builds.some((b) => b.fits !== 'not asked');
  const sounds = builds.some((b) => b.sound !== '');
  const photographs = builds.some((b) => b.photographs.length > 0);
  return (
    <Section id="builds" title="Build, fit and price" className="mt-8">
      <Sentences list={builds.flatMap((b) => b.sentences)} />
      <Table
        label="Build of the coolers"
        className="mt-2 max-w-5xl"
        rows={builds}
        keyOf={(b) => b.specimen}
        columns={[
          { head: 'Cooler', names: true, cell: (b) => <SpecimenName name={b.specimen} position={b.position} /> },
          { head: 'Height', figure: true, cell: (b) => said(b.height_mm, 'mm') },
          { head: 'Mass', figure: true, cell: (b) => said(b.mass_g, 'g') },
          { head: 'Base flat to', figure: true, cell: (b) => said(b.base_flatness_um, 'µm') },
          { head: 'Price', figure: true, cell: (b) => b.price || '–' },
          asksFit && {
            head: enclosure || 'Enclosure',
            className: (b) => (b.fits === 'no' ? 'font-semibold' : ''),
            cell: (b) => FITS[b.fits],
          },
          sounds && { head: 'Sounds', className: 'min-w-48', cell: (b) => b.sound || '–' },
          photographs && {
            head: 'Base',
            cell: (b) =>
              b.photographs.map((id, i) => (
                <a key={id} className="mr-2" href={`/api/photographs/${id}`}>
                  photograph {i + 1}
                </a>
              )),
          },
        ]}
      />
    </Section>
  );
}
