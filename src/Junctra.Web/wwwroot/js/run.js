// What a run looks like at a moment, live or once more: signs, bar, screen, partitions, journal.
function drawRun(root, run, lines) {
  root.querySelectorAll('[data-sign]').forEach((sign, at) => sign.classList.toggle('reached', run.reached[at] === true));
  root.querySelector('[data-progress]').setAttribute('aria-valuenow', Math.floor(run.progress * 100));
  root.querySelector('[data-progress-bar]').setAttribute('width', run.progress * 1000);
  root.querySelector('[data-screen]').textContent = run.screen;
  for (const part of run.partitions) {
    const segment = root.querySelector(`[data-partition="${CSS.escape(part.name)}"]`);
    if (!segment) continue;
    segment.setAttribute('class', `segment ${part.use}`);
    segment.querySelector('.fill').setAttribute('width', Number(segment.dataset.width) * part.fill);
  }
  const journal = root.querySelector('[data-journal]');
  for (const line of lines) {
    const item = document.createElement('li');
    const at = document.createElement('span');
    at.className = 'code';
    at.textContent = line.at;
    item.append(at, ` ${line.text}`);
    journal.append(item);
  }
}

// The write station, live: server-sent events of the run's journal. The stream resumes by itself after a break, from the last
// entry that was seen; a reload starts from what the server rendered.
document.addEventListener('alpine:init', () => {
  Alpine.data('runView', () => ({
    headline: '', instruction: '', sent: '', percent: '', band: '', ifBroken: '', noReturn: false, quiet: '', clockWords: '', silence: '', source: null, clock: null, again: null, ticks: null, heard: 0, ears: null, heardWords: '', heardOther: false,

    init() {
      const text = (name) => this.$root.querySelector(`[x-text="${name}"]`)?.textContent ?? '';
      for (const name of ['headline', 'instruction', 'sent', 'percent', 'band', 'ifBroken', 'clockWords']) this[name] = text(name);
      const warning = this.$root.querySelector('[x-show=noReturn]');
      this.noReturn = warning !== null && !warning.hidden;
      // From here on Alpine shows and hides.
      for (const hidden of this.$root.querySelectorAll('[x-show][hidden]')) hidden.removeAttribute('hidden');
      this.toEnd();
      if (this.$root.dataset.live !== 'yes') return;
      this.listen(Number(this.$root.dataset.quiet), this.$root.dataset.quietWords);
      // Seconds of silence are counted from the journal's last entry, by the server's clock.
      this.heard = performance.now() - Math.max(0, Number(this.$root.dataset.now) - Number(this.$root.dataset.at));
      this.ticks = setInterval(() => this.tick(), 1000);
      if (this.$root.dataset.waits === 'yes' && this.$root.querySelector('.heard')) this.hear();
      this.source = new EventSource(`/runs/${this.$root.dataset.run}/events?after=${this.$root.dataset.seq}`);
      this.source.addEventListener('run', (event) => this.show(JSON.parse(event.data)));
      this.source.addEventListener('error', () => {
        this.band = 'The view lost its connection and tries again. How the write stands cannot be seen meanwhile: hands off.';
        // Refused rather than cut: the browser gives up by itself. The sign-in may have ended, or the database be away.
        if (this.source.readyState === EventSource.CLOSED) this.again = setTimeout(() => this.look(), 3000);
      });
    },

    // The page as it would come now: with the write, or with the sign-in that leads back here. While neither comes, this view stays.
    async look() {
      try {
        if ((await fetch(location.href, { headers: { Accept: 'text/html' } })).ok) { location.reload(); return; }
      } catch { /* not yet */ }
      this.again = setTimeout(() => this.look(), 3000);
    },

    destroy() {
      this.source?.close();
      clearTimeout(this.clock);
      clearTimeout(this.again);
      clearInterval(this.ticks);
      clearTimeout(this.ears);
    },

    // While hands are at work: what their port hears, the wrong phone first of all.
    async hear() {
      try {
        const heard = document.hidden ? null : await (await fetch(`${location.pathname}?handler=Heard`)).json();
        if (heard) [this.heardWords, this.heardOther] = [heard.words, heard.isOther];
      } catch { /* not now */ }
      this.ears = setTimeout(() => this.hear(), 3000);
    },

    tick() {
      const seconds = Math.floor((performance.now() - this.heard) / 1000);
      this.silence = seconds < 3 ? 'It moves.' : `Last sign ${seconds < 120 ? `${seconds} s` : `${Math.floor(seconds / 60)} min`} ago.`;
    },

    // A bar that moves is fine however slow; one that has stood still for longer than this step ever should is not.
    listen(seconds, words) {
      clearTimeout(this.clock);
      this.quiet = '';
      if (seconds > 0) this.clock = setTimeout(() => { this.quiet = words; }, seconds * 1000);
    },

    show({ run, lines }) {
      Object.assign(this, {
        headline: run.headline, instruction: run.instruction, sent: run.sent, band: run.band, ifBroken: run.ifBroken, noReturn: run.noReturn, clockWords: run.clockWords,
        percent: `${Math.floor(run.progress * 100)} %`,
      });
      this.heard = performance.now();
      this.tick();
      this.listen(run.quietSeconds, run.quietWords);
      drawRun(this.$root, run, lines);
      this.toEnd();
      // What hands do is drawn by the server: when the run begins to wait for them, and when it goes on.
      if (!['queued', 'writing'].includes(run.status) || this.$root.dataset.waits === 'yes') {
        this.source.close();
        location.reload();
      }
    },

    toEnd() {
      const journal = this.$root.querySelector('[data-journal]');
      if (journal) journal.scrollTop = journal.scrollHeight;
    },
  }));
});
