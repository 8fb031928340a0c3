import { keepUnits } from '#core/text/keepUnits';
import { write } from '#core/text/number';
import type { PartRooms } from '#features/results/model/partRooms';

/** How far every part stays from its own limit; the nearest one of each specimen stands out. */
export function PartRoomsTable({ rooms }: { rooms: PartRooms }) {
  const { parts, specimens, sentences, room_c } = rooms;
  return (
    <>
      <ul>
        {sentences.map((s) => (
          <li key={s} className="py-1">
            {keepUnits(s)}
          </li>
        ))}
      </ul>
      <div className="mt-3 overflow-x-auto">
        <table className="w-full max-w-4xl">
          <caption className="pb-1 text-left text-soft">
            Room to the limit of each part in a room of {write(room_c, 0)} °C, in K; the part that decides in bold
          </caption>
          <thead>
            <tr className="border-b border-ink">
              <th className="py-1 text-left">Specimen</th>
              {parts.map((p) => (
                <th key={p} className="py-1 pl-4 text-right">
                  {p} / K
                </th>
              ))}
              <th className="py-1 pl-4 text-left">Decides</th>
              <th className="py-1 pl-4 text-right">n mounts</th>
            </tr>
          </thead>
          <tbody>
            {specimens.map((s) => (
              <tr key={s.name} className="border-b border-rule">
                <td className="py-1.5">{s.name}</td>
                {parts.map((p, i) => {
                  const room = s.rooms[i];
                  return (
                    <td key={p} className={`figure text-right ${p === s.decides ? 'text-name font-semibold' : ''}`}>
                      {room === null ? 'not read' : write(room, 1)}
                    </td>
                  );
                })}
                <td className="pl-4">{s.decides}</td>
                <td className="figure text-right">{s.mounts}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
