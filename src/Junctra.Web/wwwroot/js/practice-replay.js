// What hands did in practice, once more on the drawn phone. The twin lives on the server: every moment is asked of it.
document.addEventListener('alpine:init', () => {
  Alpine.data('practiceReplay', () => ({
    title: '', lines: [], entries: [], picture: 'dark', says: '', words: 'Watch it once more', clock: '0.0 s', down: 'nothing',
    at: 0, last: 0, speed: 1, playing: false, began: 0, from: 0, frame: 0, sending: false, wanted: false,

    init() {
      this.last = Number(this.$root.dataset.last);
      this.acts = JSON.parse(this.$root.dataset.acts);
      this.names = new Map([...this.$root.querySelectorAll('[data-part]')].map((part) => [part.dataset.part, part.querySelector('.key-name')?.textContent ?? part.dataset.part]));
      // A moment of the table, where it lies in this part.
      const from = Number(this.$root.dataset.from);
      for (const button of document.querySelectorAll('[data-moment]')) {
        const at = Number(button.dataset.moment) - from;
        if (at < 0 || at > this.last) continue;
        button.addEventListener('click', () => { this.playing = false; this.at = Math.min(this.last, Math.ceil(at / 10) * 10); this.jump(); this.$root.scrollIntoView({ block: 'center' }); });
      }
      this.jump();
    },

    destroy() { cancelAnimationFrame(this.frame); },

    toggle() {
      this.playing = !this.playing;
      if (this.playing) {
        if (this.at >= this.last) this.at = 0;
        this.from = this.at;
        this.began = performance.now();
        this.tick();
      }
      this.tell();
    },

    tell() { this.words = this.playing ? 'Pause' : this.at >= this.last ? 'From the beginning' : this.at > 0 ? 'Go on' : 'Watch it once more'; },

    tick() {
      if (!this.playing) return;
      this.at = Math.min(this.last, Math.round((this.from + (performance.now() - this.began) * this.speed) / 10) * 10);
      this.look();
      if (this.at >= this.last) { this.playing = false; this.tell(); return; }
      this.frame = requestAnimationFrame(() => this.tick());
    },

    jump() {
      this.from = this.at;
      this.began = performance.now();
      this.look();
      this.tell();
    },

    keys() {
      this.clock = `${(this.at / 1000).toFixed(1)} s`;
      const held = new Map();
      for (const act of this.acts) if (act.at <= this.at && act.stave && act.stave !== 'screen') held.set(act.stave, act.down);
      for (const part of this.$root.querySelectorAll('[data-part]')) part.classList.toggle('lit', held.get(part.dataset.part) === true);
      const words = [...held].filter(([, down]) => down).map(([stave]) => this.names.get(stave) ?? stave);
      this.down = words.length > 0 ? words.join(', ') : 'nothing';
    },

    async look() {
      this.keys();
      this.wanted = true;
      if (this.sending) return;
      this.sending = true;
      try {
        while (this.wanted) {
          this.wanted = false;
          const answer = await fetch(`${this.$root.dataset.url}&at=${this.at}`);
          if (!answer.ok) { this.says = 'It cannot be shown. Load the page again.'; return; }
          this.take(await answer.json());
        }
      } catch {
        this.says = 'The twin does not answer. Is this computer still connected?';
      } finally {
        this.sending = false;
      }
    },

    take(view) {
      this.title = view.screen.title;
      this.lines = view.screen.lines.map((text, key) => ({ text, key }));
      this.entries = view.screen.entries.map((entry, key) => ({ ...entry, key, look: key === view.screen.marked ? 'marked' : '' }));
      this.picture = view.screen.picture;
      this.says = view.run ? `${view.run.headline} ${view.wants ?? ''}` : `The phone shows: ${view.mode}.`;
      this.$root.dataset.mode = view.mode;
    },
  }));
});
