// The counted hold: a hand moves over the key score while seconds are counted in large figures; keys light up on the drawn
// phone while they are to be down. Slower on request, with sound or flash on the beat. Where less motion is wanted, only the
// figures count.
document.addEventListener('alpine:init', () => {
  Alpine.data('keyScore', () => ({
    label: 'Count me in', paceLabel: 'Slower', count: '', sound: false, flash: false, pace: 1, frame: 0, began: 0, beat: 0,

    toggle() { if (this.began) this.stop(); else this.start(); },

    slower() {
      this.pace = this.pace === 1 ? 0.5 : 1;
      this.paceLabel = this.pace === 1 ? 'Slower' : 'As fast as it is';
      if (this.began) { this.stop(); this.start(); }
    },

    start() {
      this.hand = this.$root.querySelector('[data-hand]');
      this.beats = this.hand.dataset.beats.split(' ').map(Number);
      this.parts = [...this.$root.querySelectorAll('[data-part]')].map((part) => ({ part, bars: part.dataset.bars.split(' ').filter(Boolean).map((bar) => bar.split('-').map(Number)) }));
      this.still = matchMedia('(prefers-reduced-motion: reduce)').matches;
      this.label = 'Stop';
      this.beat = 0;
      this.hand.closest('svg').scrollIntoView({ block: 'center', behavior: this.still ? 'auto' : 'smooth' });
      // Sound may begin only after somebody touched the page; this is that touch.
      if (this.sound) this.audio ??= new AudioContext();
      // Three seconds to put the fingers on the keys.
      this.began = performance.now() + 3000;
      this.tick();
    },

    tick() {
      const seconds = (performance.now() - this.began) / 1000 * this.pace;
      const length = Number(this.hand.dataset.length);
      if (seconds >= length) { this.stop(); return; }
      this.count = seconds < 0 ? `in ${Math.ceil(-seconds / this.pace)}` : `${Math.floor(seconds)} s`;
      if (!this.still && seconds >= 0) this.hand.setAttribute('transform', `translate(${seconds * Number(this.hand.dataset.unit)} 0)`);
      for (const { part, bars } of this.parts) part.classList.toggle('lit', bars.some(([from, to]) => seconds >= from && seconds < to));
      while (this.beat < this.beats.length && seconds >= this.beats[this.beat]) { this.beat += 1; this.strike(); }
      this.frame = requestAnimationFrame(() => this.tick());
    },

    strike() {
      if (this.sound) this.tone();
      // Asked for by name, so it comes where less motion is wanted too.
      if (!this.flash) return;
      const card = this.$root.querySelector('[data-score]');
      card.classList.add('flash');
      setTimeout(() => card.classList.remove('flash'), 150);
    },

    tone() {
      // Sound may have been asked for while the count was going.
      this.audio ??= new AudioContext();
      const tone = this.audio.createOscillator();
      const loud = this.audio.createGain();
      loud.gain.setValueAtTime(0.2, this.audio.currentTime);
      loud.gain.exponentialRampToValueAtTime(0.001, this.audio.currentTime + 0.12);
      tone.frequency.value = 880;
      tone.connect(loud).connect(this.audio.destination);
      tone.start();
      tone.stop(this.audio.currentTime + 0.13);
    },

    stop() {
      cancelAnimationFrame(this.frame);
      this.began = 0;
      this.count = '';
      this.label = 'Count me in';
      this.hand?.removeAttribute('transform');
      for (const { part } of this.parts ?? []) part.classList.remove('lit');
    },

    destroy() { this.stop(); },
  }));
});
