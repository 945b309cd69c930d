// The counted hold: a hand moves over the key score while seconds are counted in large figures. Where less motion is wanted,
// only the figures count.
document.addEventListener('alpine:init', () => {
  Alpine.data('keyScore', () => ({
    label: 'Count me in', count: '', frame: 0, began: 0,

    toggle() { if (this.began) this.stop(); else this.start(); },

    start() {
      this.hand = this.$root.querySelector('[data-hand]');
      this.still = matchMedia('(prefers-reduced-motion: reduce)').matches;
      this.label = 'Stop';
      // Three seconds to put the fingers on the keys.
      this.began = performance.now() + 3000;
      this.tick();
    },

    tick() {
      const seconds = (performance.now() - this.began) / 1000;
      const length = Number(this.hand.dataset.length);
      if (seconds >= length) { this.stop(); return; }
      this.count = seconds < 0 ? `in ${Math.ceil(-seconds)}` : `${Math.floor(seconds)} s`;
      if (!this.still && seconds >= 0) this.hand.setAttribute('transform', `translate(${seconds * Number(this.hand.dataset.unit)} 0)`);
      this.frame = requestAnimationFrame(() => this.tick());
    },

    stop() {
      cancelAnimationFrame(this.frame);
      this.began = 0;
      this.count = '';
      this.label = 'Count me in';
      this.hand?.removeAttribute('transform');
    },

    destroy() { this.stop(); },
  }));
});
