// The choice between light and dark is kept; without one, the system decides.
const chosen = localStorage.getItem('pionero-light');
if (chosen) document.documentElement.dataset.pioneroLight = chosen;
document.addEventListener('DOMContentLoaded', () => {
  document.querySelector('.pionero-lamp')?.addEventListener('click', () => {
    const root = document.documentElement;
    const isDark = root.dataset.pioneroLight ? root.dataset.pioneroLight === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
    root.dataset.pioneroLight = isDark ? 'light' : 'dark';
    localStorage.setItem('pionero-light', root.dataset.pioneroLight);
  });
});
