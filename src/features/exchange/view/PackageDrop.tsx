import { lazy, Suspense, useCallback, useEffect, useState } from 'react';

const PackageSheet = lazy(() => import('./PackageSheet.tsx'));

/** Waits, on every page, for a package that is dropped or chosen, and opens the sheet that brings it in. */
export function PackageDrop() {
  const [file, setFile] = useState<File | null>(null);
  useEffect(() => {
    const take = (e: Event) => {
      // it is taken
      e.preventDefault();
      setFile((e as CustomEvent<File>).detail);
    };
    window.addEventListener('package', take);
    return () => window.removeEventListener('package', take);
  }, []);
  const close = useCallback(() => setFile(null), []);
  if (!file) return null;
  return (
    <Suspense fallback={null}>
      <PackageSheet key={`${file.name} ${file.lastModified}`} file={file} onClose={close} />
    </Suspense>
  );
}
