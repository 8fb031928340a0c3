import { SpecimenMark } from './SpecimenMark.tsx';

/** A specimen by its mark and name. */
export const SpecimenName = ({ name, position }: { name: string; position: number }) => (
  <span className="flex items-center gap-2">
    <SpecimenMark position={position} size={5} />
    {name}
  </span>
);
