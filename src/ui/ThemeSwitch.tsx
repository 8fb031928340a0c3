import { Moon, Sun } from 'lucide-react';
import { useEffect, useState } from 'react';

/** Light or dark; the choice is kept in the browser, the system decides until one is made. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState<string | undefined>();
  useEffect(() => setTheme(document.documentElement.dataset.theme), []);
  const other = theme === 'dark' ? 'light' : 'dark';
  const change = () => {
    document.documentElement.dataset.theme = other;
    localStorage.setItem('theme', other);
    setTheme(other);
  };
  return (
    <button
      type="button"
      onClick={change}
      className="grid h-9 w-9 place-items-center rounded-[2px] hover:bg-band"
      aria-label={`Change to ${other}`}
      title={`Change to ${other}`}
    >
      {theme === 'dark' ? <Sun size={18} /> : <Moon size={18} />}
    </button>
  );
}
