/* Albar: the menu on small screens, and the weather line. */
(function () {
  'use strict';

  const albar = (window.albarTheme = window.albarTheme || {});
  const STORAGE_KEY = 'albar:menu';

  albar.toggleMenu = function albarToggleMenu(button) {
    const nav = document.querySelector('.albar-nav');
    const isOpen = nav.classList.toggle('albar-nav--open');
    button.setAttribute('aria-expanded', String(isOpen));
    localStorage.setItem(STORAGE_KEY, isOpen ? 'open' : 'closed');
    document.dispatchEvent(new CustomEvent('albar:menu', { detail: { isOpen } }));
  };

  albar.weather = async function loadAlbarWeather(element) {
    const response = await fetch('/themes/albar/weather.json?hut=' + element.dataset.albarWeather);
    if (!response.ok) throw new Error('Albar could not read the weather');
    element.textContent = (await response.json()).line;
  };

  document.querySelectorAll('[data-albar-weather]').forEach(albar.weather);
})();
