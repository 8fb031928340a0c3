// read before anything is drawn: what is pressed before the page is alive, the theme, and this browser's own way of writing dates, times and alarms
window.earlyKeys = [];
window.noteEarlyKey = (e) => window.earlyKeys.push(e);
window.addEventListener('keydown', window.noteEarlyKey);

// a part of the page that is fetched when it is wanted, and is not there any more: the application was upgraded since
window.addEventListener('vite:preloadError', () => location.reload());

const root = document.documentElement;
root.dataset.theme = localStorage.getItem('theme') ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
try {
  Object.assign(root.dataset, JSON.parse(localStorage.getItem('reading') ?? '{}'));
} catch {}
