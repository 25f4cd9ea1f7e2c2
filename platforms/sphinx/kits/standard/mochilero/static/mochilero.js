document.addEventListener('DOMContentLoaded', () => {
  document.documentElement.classList.add('mochilero-ready');
});
