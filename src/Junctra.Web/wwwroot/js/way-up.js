// A phone on its way up after a write: the hand of its clock goes on while the page is open. What its place means is said by the server:
// past a turn the page comes anew, unless somebody types.
document.addEventListener('alpine:init', () => {
  Alpine.data('wayUp', () => ({
    timer: null,

    init() {
      const clock = this.$root.querySelector('.stage-clock');
      const hand = clock?.querySelector('[data-hand]');
      if (!hand) return;
      const began = performance.now();
      const at = Number(clock.dataset.minutes);
      const scale = Number(clock.dataset.scale);
      const turn = clock.dataset.turns.split(' ').map(Number).find((minutes) => minutes > at);
      this.timer = setInterval(() => {
        const minutes = at + (performance.now() - began) / 60000;
        hand.setAttribute('transform', `translate(${Math.min(640, minutes * scale)} 0)`);
        if (turn !== undefined && minutes > turn && !document.activeElement?.matches('input, select')) location.reload();
      }, 1000);
    },

    destroy() { clearInterval(this.timer); },
  }));
});
