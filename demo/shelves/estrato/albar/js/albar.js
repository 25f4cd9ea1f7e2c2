export function albarStart() {
  document.body.classList.add('albar-ready');
}
