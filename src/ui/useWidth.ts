import { useEffect, useState } from 'react';

/** Width of the window in CSS pixels; a desktop's before the browser has told. */
export function useWidth(): number {
  const [width, setWidth] = useState(1280);
  useEffect(() => {
    const read = () => setWidth(window.innerWidth);
    read();
    window.addEventListener('resize', read);
    return () => window.removeEventListener('resize', read);
  }, []);
  return width;
}
