(() => {
  const opener = document.querySelector('.mochilero-opener');
  const nav = document.querySelector('.mochilero-nav');
  if (!opener || !nav) return;
  opener.addEventListener('click', () => {
    opener.setAttribute('aria-expanded', String(nav.classList.toggle('mochilero-open')));
  });
})();
