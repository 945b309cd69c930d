// Files that this computer sends, in pieces that may break off and go on.
(() => {
  'use strict';
  const card = document.querySelector('[data-upload]');
  if (!card) return;
  const file = card.querySelector('input[type=file]');
  const start = card.querySelector('[data-upload-start]');
  const stop = card.querySelector('[data-upload-stop]');
  const state = card.querySelector('[data-upload-state]');
  const bar = card.querySelector('[data-upload-bar]');
  let upload = null;

  function show(text, running) {
    state.textContent = text;
    start.disabled = running || file.files.length === 0;
    stop.hidden = bar.hidden = !running;
  }

  const size = (bytes) => (bytes < 1e6 ? `${Math.round(bytes / 1e3)} kB` : bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`);

  file.addEventListener('change', () => {
    const chosen = file.files[0];
    if (chosen && chosen.size > Number(card.dataset.most)) { show(`${chosen.name} has ${size(chosen.size)}; ${size(Number(card.dataset.most))} is the most.`, false); start.disabled = true; return; }
    show(chosen ? `${chosen.name}, ${size(chosen.size)}` : '', false);
  });

  start.addEventListener('click', async () => {
    const chosen = file.files[0];
    if (!chosen) return;
    const began = performance.now();
    upload = new window.tus.Upload(chosen, {
      endpoint: '/uploads',
      chunkSize: 32 * 1024 * 1024,
      retryDelays: [0, 1000, 3000, 5000, 10000, 20000],
      metadata: { filename: chosen.name },
      headers: { RequestVerificationToken: card.dataset.token },
      removeFingerprintOnSuccess: true,
      onProgress: (sent, all) => {
        bar.value = Math.round(sent / all * 1000);
        const rate = sent / Math.max(0.001, (performance.now() - began) / 1000);
        show(`${size(sent)} of ${size(all)}, about ${Math.max(1, Math.round((all - sent) / rate))} s left`, true);
      },
      onSuccess: () => { show('All of it is here.', false); document.getElementById('arrivals').dispatchEvent(new Event('renew')); },
      onError: (error) => show(error.originalResponse?.getBody() || 'The line broke. Send it again: it goes on where it was.', false),
    });
    show('Beginning …', true);
    const earlier = await upload.findPreviousUploads();
    if (earlier.length > 0) upload.resumeFromPreviousUpload(earlier[0]);
    upload.start();
  });

  stop.addEventListener('click', async () => { await upload?.abort(); show('Stopped. Send it again: it goes on where it was.', false); });
})();
