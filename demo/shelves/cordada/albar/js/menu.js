document.querySelectorAll('.albar-header button').forEach((button) => button.addEventListener('click', () => button.classList.toggle('albar-open')));
