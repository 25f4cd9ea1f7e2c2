document.querySelectorAll('.mochilero-header button').forEach((button) => button.addEventListener('click', () => button.classList.toggle('mochilero-open')));
