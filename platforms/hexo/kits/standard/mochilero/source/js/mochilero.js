(() => {
  const opener = document.querySelector('.mochilero-opener');
  const menu = document.querySelector('.mochilero-menu');
  if (!opener || !menu) return;
  opener.addEventListener('click', () => {
    opener.setAttribute('aria-expanded', String(menu.classList.toggle('mochilero-open')));
  });
})();
