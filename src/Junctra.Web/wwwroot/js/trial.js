// A score tried on the twin: keys are held on the keyboard, on the drawn phone or on its buttons. The twin lives on the
// server; every look sends all that was done so far, and nothing is kept there in between.
document.addEventListener('alpine:init', () => {
  Alpine.data('trial', () => ({
    title: '', lines: [], entries: [], picture: 'dark', moments: [], latch: false, clock: '',
    says: 'Hold the keys of the score, on the keyboard or on the phone. The clock begins with the first.',
    acts: [], began: 0, timer: 0, frame: 0, sending: false, wanted: false,
    // In practice: hints that were asked for, and whether it is over.
    hints: [], hinted: false, over: false, light: '', list: { phones: [], sign: '', why: '', tries: [] },
    // Half as fast, for whoever learns; sounds where somebody wants them.
    slower: false, pace: 1, sounds: false, tone: null,
    // A write of practice, as the write station shows it: begun by a press, with words where a step wants one.
    waits: false, command: '', said: [], wantsWord: false, headline: '', sent: '', percent: '0 %', ifBroken: '', noReturn: false, told: 0,

    init() {
      this.keys = new Map(this.$root.dataset.keys.split(' ').map((pair) => pair.split('=')));
      this.hand = this.$root.querySelector('[data-hand]');
      this.played = this.$root.querySelector('[data-played]');
      this.staves = this.played?.dataset.played.split(' ').map((pair) => pair.split('='));
      this.hasCable = this.$root.dataset.cable === 'in';
      this.waits = this.$root.dataset.begin === 'yes';
      this.sounds = localStorage.getItem('practice-sounds') === 'yes';
      this.show();
      this.onDown = (event) => this.keyboard(event, true);
      this.onUp = (event) => this.keyboard(event, false);
      addEventListener('keydown', this.onDown, true);
      addEventListener('keyup', this.onUp, true);
      // Whoever turns to another window has let go: nobody will say so later.
      this.onBlur = () => { for (const stave of this.keys.values()) this.lift(stave); };
      addEventListener('blur', this.onBlur);
      for (const part of this.$root.querySelectorAll('[data-part], [data-hold]')) {
        const stave = part.dataset.part || part.dataset.hold;
        part.addEventListener('pointerdown', (event) => { event.preventDefault(); this.press(stave); });
        for (const end of ['pointerup', 'pointerleave', 'pointercancel']) part.addEventListener(end, () => this.lift(stave));
        part.addEventListener('keydown', (event) => { if ((event.key === 'Enter' || event.key === ' ') && !event.repeat) { event.preventDefault(); event.stopPropagation(); this.toggle(stave); } });
      }
      if (this.$root.dataset.says) this.says = this.$root.dataset.says;
      this.look();
    },

    destroy() {
      removeEventListener('keydown', this.onDown, true);
      removeEventListener('keyup', this.onUp, true);
      removeEventListener('blur', this.onBlur);
      clearTimeout(this.timer);
      cancelAnimationFrame(this.frame);
    },

    keyboard(event, down) {
      // Caps lock changes the letter, not the key.
      const stave = this.keys.get(event.key.length === 1 ? event.key.toLowerCase() : event.key);
      if (!stave || event.ctrlKey || event.metaKey || event.altKey || event.target.closest('input[type=search], select')) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.repeat) return;
      if (down) this.press(stave); else this.lift(stave);
    },

    stays(stave) { return this.latch || ['cable', 'battery', 'charger', 'card'].includes(stave); },
    isDown(stave) { return this.acts.filter((act) => act.stave === stave).at(-1)?.down ?? (stave === 'cable' && this.hasCable); },
    press(stave) { if (this.stays(stave)) this.toggle(stave); else if (!this.isDown(stave)) this.act(stave, true); },
    lift(stave) { if (!this.stays(stave) && this.isDown(stave)) this.act(stave, false); },
    toggle(stave) { this.act(stave, !this.isDown(stave)); },
    // A command that the computer gives: the phone takes it where it knows it.
    give() { this.act('computer', true, this.command || this.$root.querySelector('option')?.value); },
    touch(event) { this.act('screen', true, event.target.dataset.entry); },

    act(stave, down, does) {
      if (this.over || this.waits) return;
      if (!this.began) this.start();
      if (this.sounds) navigator.vibrate?.(20);
      this.acts.push({ at: this.now(), stave, down, does });
      this.show();
      this.look();
    },

    start() { this.began = performance.now(); this.tick(); },

    // A write begins with a press; from then on its clock runs, whatever hands do.
    begin() {
      this.waits = false;
      this.start();
      this.look();
    },

    // A step that no screen shows is done when somebody says so.
    word() {
      this.said.push(this.now());
      this.look();
    },

    // The clock goes on from where it is, at the other pace.
    repace() {
      const now = this.now();
      this.pace = this.slower ? 0.5 : 1;
      if (this.began) this.began = performance.now() - now / this.pace;
      this.look();
    },

    keepSounds() { localStorage.setItem('practice-sounds', this.sounds ? 'yes' : 'no'); if (this.sounds) this.ring(); },

    ring() {
      navigator.vibrate?.(60);
      this.tone ??= new AudioContext();
      const [wave, gain] = [this.tone.createOscillator(), this.tone.createGain()];
      wave.frequency.value = 740;
      gain.gain.value = 0.06;
      wave.connect(gain).connect(this.tone.destination);
      wave.start();
      wave.stop(this.tone.currentTime + 0.09);
    },

    now() { return this.began ? Math.round((performance.now() - this.began) * this.pace) : 0; },

    tick() {
      const seconds = this.now() / 1000;
      this.clock = `${seconds.toFixed(1)} s`;
      const length = Number(this.hand?.dataset.length);
      if (this.hand && !matchMedia('(prefers-reduced-motion: reduce)').matches) this.hand.setAttribute('transform', `translate(${Math.min(seconds, length) * Number(this.hand.dataset.unit)} 0)`);
      this.trace();
      if (this.began) this.frame = requestAnimationFrame(() => this.tick());
    },

    // What was really held, drawn on the staves of the score.
    trace() {
      if (!this.hand) return;
      const { left, unit, length } = this.hand.dataset;
      const x = (at) => Number(left) + Math.min(at / 1000, Number(length)) * Number(unit);
      const spans = this.staves.flatMap(([stave, y]) => {
        const acts = this.acts.filter((act) => act.stave === stave);
        // A touch is a moment; what is held ends where it is let go, or goes on.
        return acts.filter((act) => act.down).map((act) => ({ y, from: act.at, to: stave === 'screen' ? act.at : acts.find((later) => later.at >= act.at && !later.down)?.at ?? this.now() }));
      });
      while (this.played.childElementCount < spans.length) this.played.append(document.createElementNS('http://www.w3.org/2000/svg', 'rect'));
      while (this.played.childElementCount > spans.length) this.played.lastChild.remove();
      spans.forEach(({ y, from, to }, i) => {
        const sizes = { x: x(from), y: Number(y) + 7, width: Math.max(3, x(to) - x(from)), height: 7, rx: 3 };
        for (const [name, value] of Object.entries(sizes)) this.played.children[i].setAttribute(name, value);
      });
    },

    show() {
      for (const part of this.$root.querySelectorAll('[data-part]')) part.classList.toggle('lit', this.isDown(part.dataset.part));
      for (const button of this.$root.querySelectorAll('[data-hold]')) button.setAttribute('aria-pressed', String(this.isDown(button.dataset.hold)));
    },

    async look() {
      this.wanted = true;
      if (this.sending) return;
      this.sending = true;
      try {
        while (this.wanted) {
          this.wanted = false;
          const answer = await fetch(this.$root.dataset.url, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json', RequestVerificationToken: this.$root.querySelector('input[name=__RequestVerificationToken]').value },
            body: JSON.stringify({ acts: this.acts, now: this.now(), hints: this.hints, said: this.said }),
          });
          if (!answer.ok) { this.says = answer.status === 400 ? await answer.text() : 'The twin does not answer. Load the page again.'; return; }
          this.take(await answer.json());
        }
      } catch {
        this.says = 'The twin does not answer. Is this computer still connected?';
      } finally {
        this.sending = false;
      }
    },

    take(view) {
      if (this.sounds && this.began && (this.picture !== view.screen.picture || this.title !== view.screen.title)) this.ring();
      this.light = view.screen.light ?? '';
      if (view.list) this.list = view.list;
      this.title = view.screen.title;
      this.lines = view.screen.lines.map((text, key) => ({ text, key }));
      this.entries = view.screen.entries.map((entry, i) => ({ ...entry, look: i === view.screen.marked ? 'marked' : '' }));
      this.picture = view.screen.picture;
      this.moments = view.moments.map((moment, key) => ({ ...moment, key }));
      if (view.run) this.takeRun(view);
      else if (this.began) this.says = view.arrived ? `The phone shows: ${view.mode}. That is where the score leads.` : `The phone shows: ${view.mode}.`;
      this.$root.dataset.mode = view.mode;
      this.$root.dataset.arrived = String(view.arrived);
      clearTimeout(this.timer);
      if (view.over && !this.over) { this.finish(); return; }
      if (this.began && view.due !== null && view.due < 600000) this.timer = setTimeout(() => this.look(), Math.min(view.run ? 400 : 600000, view.due / this.pace + 20));
    },

    takeRun(view) {
      const { run, lines } = view;
      Object.assign(this, { headline: run.headline, sent: run.sent, percent: `${Math.floor(run.progress * 100)} %`, ifBroken: run.ifBroken, noReturn: run.noReturn, wantsWord: view.word && !view.over && this.began > 0 });
      if (this.began) this.says = view.wants ?? run.instruction;
      drawRun(this.$root, run, lines.slice(this.told));
      this.told = lines.length;
      const journal = this.$root.querySelector('[data-journal]');
      journal.scrollTop = journal.scrollHeight;
    },

    hint() {
      this.hinted = true;
      this.hints.push(this.now());
    },

    // It is over: done, spoiled or given up. What was done is sent once more, judged and kept.
    async finish() {
      if (this.over) return;
      this.over = true;
      const now = this.now();
      cancelAnimationFrame(this.frame);
      const answer = await fetch(this.$root.dataset.finish, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', RequestVerificationToken: this.$root.querySelector('input[name=__RequestVerificationToken]').value },
        body: JSON.stringify({ acts: this.acts, now, hints: this.hints, said: this.said }),
      }).catch(() => null);
      if (answer?.ok) location.href = (await answer.json()).url;
      else { this.over = false; this.says = 'It could not be kept. Is this computer still connected? Press “I give up” to try again.'; }
    },

    again() {
      cancelAnimationFrame(this.frame);
      clearTimeout(this.timer);
      this.acts = [];
      this.began = 0;
      this.clock = '';
      this.moments = [];
      this.says = this.$root.dataset.says ?? 'Hold the keys of the score. The clock begins with the first.';
      this.hand?.removeAttribute('transform');
      this.trace();
      this.show();
      this.look();
    },
  }));

  // A question with a hint: one answer less, for its points.
  Alpine.data('asked', () => ({ hinted: false, hints: 0, hint() { this.hinted = true; this.hints = 1; } }));
});
