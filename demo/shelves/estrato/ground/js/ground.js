export function groundStart() {
  document.body.classList.add('ground-ready');
}
