// Keeps a part of a page current while something in it moves: asked for anew until nothing in it says so any more.
(() => {
  'use strict';
  for (const box of document.querySelectorAll('[data-live]')) {
    const moves = () => box.querySelector('[data-moving=yes]') !== null;
    async function renew() {
      try {
        const answer = await fetch(box.dataset.live, { headers: { Accept: 'text/html' } });
        // Whoever is no longer signed in is sent to the sign-in page by a reload.
        if (!answer.ok || answer.redirected) { location.reload(); return; }
        const text = await answer.text();
        // A button that somebody is on stays where it is.
        if (!box.contains(document.activeElement)) box.innerHTML = text;
      } catch {
        // The program is away for a moment; the next look may find it.
      }
      if (moves()) setTimeout(renew, 1500);
    }
    if (moves()) setTimeout(renew, 1000);
    box.addEventListener('renew', renew);
  }
})();
