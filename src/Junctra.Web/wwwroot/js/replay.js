// A run once more, as it was seen: what the write station showed after each entry of the journal, faster.
document.addEventListener('alpine:init', () => {
  Alpine.data('runReplay', () => ({
    // The phone, as its twin shows it in the mode in which it was.
    title: '', shown: [], entries: [], picture: 'dark',
    open: false, playing: false, frames: [], at: 0, last: 0, speed: 60, headline: '', sent: '', percent: '', clock: '', words: 'Watch it once more', timer: null,

    // Nobody watches a wait of an hour: what lies between two entries takes so long at most.
    longest: 1500,

    async toggle() {
      if (this.frames.length === 0) {
        const answer = await fetch(`/runs/${this.$root.dataset.run}/replay`);
        if (!answer.ok) { this.words = 'It could not be loaded. Try again'; return; }
        this.frames = await answer.json();
        this.last = Math.max(0, this.frames.length - 1);
        this.open = true;
        this.at = 0;
        this.jump();
      }
      this.playing = !this.playing;
      if (this.playing && this.at >= this.last) { this.at = 0; this.jump(); }
      if (this.playing) this.next(); else clearTimeout(this.timer);
      this.tell();
    },

    tell() {
      this.words = this.playing ? 'Pause' : this.at >= this.last ? 'From the beginning' : 'Go on';
    },

    next() {
      if (this.at >= this.last) { this.playing = false; this.tell(); return; }
      const wait = (this.frames[this.at + 1].at - this.frames[this.at].at) / this.speed;
      this.timer = setTimeout(() => { this.at += 1; this.draw(this.frames[this.at].lines); this.next(); }, Math.min(this.longest, wait));
    },

    // To a moment: the journal is that of all entries until then.
    jump() {
      this.$root.querySelector('[data-journal]').replaceChildren();
      this.draw(this.frames.slice(0, this.at + 1).flatMap((frame) => frame.lines));
    },

    draw(lines) {
      const { run, at, phone } = this.frames[this.at];
      if (phone) Object.assign(this, { title: phone.title, picture: phone.picture, shown: phone.lines.map((text, key) => ({ text, key })), entries: phone.entries.map((entry, key) => ({ label: entry.label, key, look: key === phone.marked ? 'marked' : '' })) });
      Object.assign(this, { headline: run.headline, sent: run.sent, percent: `${Math.floor(run.progress * 100)} %` });
      const seconds = Math.floor(at / 1000);
      this.clock = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
      drawRun(this.$root, run, lines);
      const journal = this.$root.querySelector('[data-journal]');
      journal.scrollTop = journal.scrollHeight;
    },

    destroy() { clearTimeout(this.timer); },
  }));
});
