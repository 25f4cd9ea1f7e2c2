export function mochileroStart() {
  document.body.classList.add('mochilero-ready');
}
