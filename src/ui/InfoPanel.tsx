import { Popover } from 'radix-ui';
import { GLOSSARY, type TermKey } from './glossary';
import { InfoButton } from './InfoButton.tsx';

/** The line of a term, open beside its button, with the way to the help. */
export function InfoPanel({ term }: { term: TermKey }) {
  const { name, line } = GLOSSARY[term];
  return (
    <Popover.Root defaultOpen>
      <Popover.Trigger asChild>
        <InfoButton term={term} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={name}
          sideOffset={4}
          collisionPadding={12}
          className="z-50 max-w-xs border-2 border-ink bg-leaf px-4 py-3 text-base font-normal"
        >
          <strong className="block">{name}</strong>
          <span className="block">{line}</span>
          <a className="mt-1 inline-block text-note underline" href={`/help#${term}`}>
            More in the help
          </a>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
