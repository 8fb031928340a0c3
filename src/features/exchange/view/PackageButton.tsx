import { useRef } from 'react';
import { Quiet } from '#ui/Form.tsx';

/** Chooses a package to bring in; the sheet that every page carries takes it. */
export function PackageButton() {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Quiet onClick={() => input.current?.click()}>Choose a package</Quiet>
      <input
        ref={input}
        type="file"
        accept=".zip"
        className="hidden"
        aria-label="Package of a study"
        data-testid="package-file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          // the same file may be chosen again
          e.target.value = '';
          if (file) window.dispatchEvent(new CustomEvent('package', { detail: file }));
        }}
      />
    </>
  );
}
