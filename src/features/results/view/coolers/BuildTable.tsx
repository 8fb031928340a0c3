import { keepUnits } from '#core/text/keepUnits';
import { write } from '#core/text/number';
import type { CoolerBuild } from '#features/results/model/coolers/builds';
import { Scroll } from '#ui/Scroll.tsx';
import { Section } from '#ui/Section.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';

const FITS: Record<CoolerBuild['fits'], string> = { yes: 'fits', no: 'does not fit', 'not known': 'not known', 'not asked': '' };

/** What stands beside the temperature: size, mass, price, base, whether a cooler fits, and how its fan sounds. */
export function BuildTable({ builds, enclosure }: { builds: CoolerBuild[]; enclosure: string }) {
  const said = (v: number | null, unit: string) => (v === null ? '–' : `${write(v, 0)} ${unit}`);
  const asksFit = builds.some((b) => b.fits !== 'not asked');
  const sounds = builds.some((b) => b.sound !== '');
  const photographs = builds.some((b) => b.photographs.length > 0);
  return (
    <Section id="builds" title="Build, fit and price" className="mt-8">
      <ul>
        {builds
          .flatMap((b) => b.sentences)
          .map((s) => (
            <li key={s} className="py-1">
              {keepUnits(s)}
            </li>
          ))}
      </ul>

      <Scroll label="Build of the coolers" className="mt-2">
        <table className="w-full max-w-5xl">
          <thead>
            <tr className="border-b border-ink">
              <th className="py-1 text-left">Cooler</th>
              <th className="py-1 pl-4 text-right">Height</th>
              <th className="py-1 pl-4 text-right">Mass</th>
              <th className="py-1 pl-4 text-right">Base flat to</th>
              <th className="py-1 pl-4 text-right">Price</th>
              {asksFit && <th className="py-1 pl-4 text-left">{enclosure || 'Enclosure'}</th>}
              {sounds && <th className="py-1 pl-4 text-left">Sounds</th>}
              {photographs && <th className="py-1 pl-4 text-left">Base</th>}
            </tr>
          </thead>
          <tbody>
            {builds.map((b) => (
              <tr key={b.specimen} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-semibold whitespace-nowrap">
                  <span className="mr-2 inline-block align-middle">
                    <SpecimenMark position={b.position} />
                  </span>
                  {b.specimen}
                </th>
                <td className="figure pl-4 text-right whitespace-nowrap">{said(b.height_mm, 'mm')}</td>
                <td className="figure pl-4 text-right whitespace-nowrap">{said(b.mass_g, 'g')}</td>
                <td className="figure pl-4 text-right whitespace-nowrap">{said(b.base_flatness_um, 'µm')}</td>
                <td className="figure pl-4 text-right whitespace-nowrap">{b.price || '–'}</td>
                {asksFit && <td className={`pl-4 ${b.fits === 'no' ? 'font-semibold' : ''}`}>{FITS[b.fits]}</td>}
                {sounds && <td className="min-w-48 pl-4">{b.sound || '–'}</td>}
                {photographs && (
                  <td className="pl-4">
                    {b.photographs.map((id, i) => (
                      <a key={id} className="mr-2" href={`/api/photographs/${id}`}>
                        photograph {i + 1}
                      </a>
                    ))}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </Section>
  );
}
