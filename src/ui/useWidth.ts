import { useEffect, useState } from 'react';

/** What stands left and right of a page's content, CSS pixels: as the frame of the pages has it. */
const MARGINS = { narrow: 32, wide: 72 };
const WIDE = 640;
/** Room that a scroll bar may take. */
const BAR = 4;
const MOST = 1528;

/** Width of the content of a page in a window of such a width, CSS pixels. */
export const contentWidth = (page: number): number => Math.min(page - (page < WIDE ? MARGINS.narrow : MARGINS.wide) - BAR, MOST);

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
