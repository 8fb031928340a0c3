import { list, plural } from '#core/text/words';
import { addressOf } from '#features/ranking/model/choiceAddress';
import type { RankingPlace } from '#features/ranking/server/rankingPlace';

/** What belongs here, and what is missing. */
export function RankingEmpty({ place }: { place: Pick<RankingPlace, 'setups' | 'not_ranked' | 'choice' | 'other_labs'> }) {
  const left = place.setups.flatMap((s) => s.left_out.map((l) => ({ ...l, places: s.places })));
  return (
    <section>
      <h1 className="text-verdict font-semibold">Nothing to rank yet</h1>
      <p className="mt-2 max-w-3xl text-name">
        Every study that compares materials is ranked here with all others: which is best over all set-ups, how sure that is, and what a
        part of your own would see. It takes runs with power, temperature and room, and the size of the contact on the rig’s sheet.
      </p>
      {left.length > 0 && (
        <ul className="mt-3">
          {left.map((l) => (
            <li key={`${l.places[0].key} ${l.name} ${l.why}`}>
              <a href={`/studies/${l.places[0].study_id}/runs`}>{list(l.places.map((p) => p.study))}</a>: {plural(l.mounts, 'mount')} of{' '}
              {l.name} left out, {l.why}
            </li>
          ))}
        </ul>
      )}
      {place.not_ranked.length > 0 && (
        <p className="mt-3">Not in a ranking of materials: {list(place.not_ranked.map((s) => `${s.study} (${s.why})`))}.</p>
      )}
      {place.choice.labs === 'own' && place.other_labs.length > 0 && (
        <p className="mt-3">
          What {list(place.other_labs)} measured is left out.{' '}
          <a href={`/ranking${addressOf({ ...place.choice, labs: 'all' })}`}>Rank it too</a>
        </p>
      )}
      {place.choice.years !== null && (
        <p className="mt-3">
          Only the last {plural(place.choice.years, 'year')} is looked at. <a href="/ranking">Look at all years</a>
        </p>
      )}
      <p className="mt-5 flex gap-3">
        <a className="act inline-block" href="/studies/new">
          Start a study
        </a>
        <a className="quiet inline-block" href="/shelf/rigs">
          Rigs and their contacts
        </a>
      </p>
    </section>
  );
}
