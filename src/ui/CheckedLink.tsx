import { type Checked, checkedAddress } from './checked';

/** Leads from what is claimed to how often it held where the truth was known. */
export function CheckedLink({ subject }: { subject: Checked }) {
  return (
    <a href={checkedAddress(subject)} className="text-note whitespace-nowrap underline">
      How often this holds
    </a>
  );
}
