import { write } from '#core/text/words';
import type { PartRooms } from '#features/results/model/partRooms';
import { Table } from '#ui/Table.tsx';
import { Sentences } from '#ui/Words.tsx';

/** How far every part stays from its own limit; the nearest one of each specimen stands out. */
export const PartRoomsTable = ({ rooms: { parts, specimens, sentences, room_c } }: { rooms: PartRooms }) => (
  <>
    <Sentences list={sentences} />
    <Table
      label="Room of each part to its limit"
      className="mt-3 max-w-4xl"
      caption={`Room to the limit of each part in a room of ${write(room_c, 0)} °C, in K; the part that decides in bold`}
      rows={specimens}
      keyOf={(s) => s.name}
      columns={[
        { head: 'Specimen', names: true, cell: (s) => s.name },
        ...parts.map((part, i) => ({
          head: `${part} / K`,
          figure: true,
          className: (s: PartRooms['specimens'][number]) => (part === s.decides ? 'text-name font-semibold' : ''),
          cell: (s: PartRooms['specimens'][number]) => (s.rooms[i] === null ? 'not read' : write(s.rooms[i], 1)),
        })),
        { head: 'Decides', cell: (s) => s.decides },
        { head: 'n mounts', figure: true, cell: (s) => s.mounts },
      ]}
    />
  </>
);
