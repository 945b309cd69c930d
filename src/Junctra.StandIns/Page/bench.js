// The simulated bench: one phone in the hand, the others beside it. All it does goes over the same addresses that programs use.
const SVG = 'http://www.w3.org/2000/svg';
const $ = (id) => document.getElementById(id);
const letters = { p: 'power', u: 'volume-up', d: 'volume-down', h: 'home' };
let bench = {};
let phones = {};
let at = null;
let drawn = null;

const make = (tag, attributes = {}, ...children) => {
  const element = document.createElementNS(SVG, tag);
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
  element.append(...children);
  return element;
};
const html = (tag, properties = {}, ...children) => {
  const element = Object.assign(document.createElement(tag), properties);
  element.append(...children);
  return element;
};

async function post(path) {
  const answer = await fetch(`/phones/${at}/${path}`, { method: 'POST' });
  $('said').textContent = answer.ok ? '' : (await answer.text()).replace(/^"|"$/g, '') || 'It does nothing.';
  await look();
}

async function look() {
  try {
    phones = await (await fetch('/phones')).json();
  } catch {
    $('said').textContent = 'The simulated phones do not answer.';
    return;
  }
  tiles();
  if (at !== null) show();
}

function tiles() {
  for (const [name, phone] of Object.entries(phones)) {
    let tile = $('tiles').querySelector(`[data-phone="${name}"]`);
    if (!tile) {
      tile = html('button', { className: 'tile', type: 'button' }, html('b', { textContent: name }), html('span'), html('span'));
      tile.dataset.phone = name;
      tile.addEventListener('click', () => { location.hash = name; });
      $('tiles').append(tile);
    }
    const { ticket, model } = bench.phones[name];
    const [, top, below] = tile.children;
    top.textContent = `${ticket ?? 'spare'} ${model}`;
    below.textContent = phone.label;
    tile.title = `${top.textContent}: ${phone.label}`;
    tile.setAttribute('aria-current', name === at);
  }
}

// ---- The phone in the hand.

function draw() {
  const { sketch } = bench.phones[at];
  const svg = $('drawing');
  svg.setAttribute('viewBox', `0 0 ${sketch.width} ${sketch.height + 24}`);
  const screen = html('div', { className: 'screen' });
  screen.setAttribute('xmlns', 'http://www.w3.org/1999/xhtml');
  const glass = make('foreignObject', { x: sketch.screen[0], y: sketch.screen[1], width: sketch.screen[2], height: sketch.screen[3] }, screen);
  svg.replaceChildren(
    make('rect', { class: 'body', x: sketch.body[0], y: sketch.body[1], width: sketch.body[2], height: sketch.body[3], rx: 16 }),
    make('rect', { class: 'glass', x: sketch.screen[0], y: sketch.screen[1], width: sketch.screen[2], height: sketch.screen[3], rx: 5 }),
    glass,
    ...sketch.parts.filter((part) => part.isKey).map(key),
    ...sketch.parts.filter((part) => !part.isKey && part.side === 'bottom').map(cable),
  );
  drawn = at;
}

function key(part) {
  const group = make('g', { class: `key ${part.side}`, tabindex: 0, role: 'button', 'aria-label': part.name, 'data-key': part.id },
    // A thumb is broader than a key.
    make('rect', { x: part.x - 6, y: part.y - 4, width: part.width + 12, height: part.height + 8, fill: 'transparent', style: 'fill:transparent;stroke:none' }),
    make('rect', { x: part.x, y: part.y, width: part.width, height: part.height, rx: 3 }),
    make('text', { x: part.labelX, y: part.labelY + (part.side === 'front' ? 1 : 3), 'text-anchor': part.anchor }, part.name));
  const latch = () => $('latch').checked;
  group.addEventListener('pointerdown', (event) => {
    event.preventDefault();
    group.focus();
    if (latch()) return press(part.id, !isDown(part.id));
    group.setPointerCapture(event.pointerId);
    press(part.id, true);
  });
  for (const end of ['pointerup', 'pointercancel']) group.addEventListener(end, () => { if (!latch()) press(part.id, false); });
  group.addEventListener('keydown', (event) => {
    if (event.repeat || (event.key !== ' ' && event.key !== 'Enter')) return;
    event.preventDefault();
    press(part.id, latch() ? !isDown(part.id) : true);
  });
  group.addEventListener('keyup', (event) => { if (!latch() && (event.key === ' ' || event.key === 'Enter')) press(part.id, false); });
  return group;
}

function cable(part) {
  const x = part.x + part.width / 2;
  const group = make('g', { class: 'cable', tabindex: 0, role: 'button', 'aria-label': 'Cable to the computer' },
    make('path', { d: `M${x} ${part.y + 10} v22` }),
    make('rect', { x: part.x, y: part.y, width: part.width, height: part.height, rx: 2 }),
    make('text', { x, y: part.y + 46, 'text-anchor': 'middle' }, ''));
  group.addEventListener('click', () => post('cable'));
  group.addEventListener('keydown', (event) => { if (event.key === ' ' || event.key === 'Enter') { event.preventDefault(); post('cable'); } });
  return group;
}

const isDown = (id) => phones[at].down.includes(id);

// One after the other: a key that is let go is never let go before it was pressed.
let queue = Promise.resolve();
const press = (id, down) => { queue = queue.then(() => post(`keys/${id}/${down ? 'down' : 'up'}`)); };

function show() {
  const phone = phones[at];
  const { ticket, model, name, batteryOut } = bench.phones[at];
  if (drawn !== at) {
    draw();
    files();
    $('as').value = '';
  }
  $('phone').hidden = false;
  $('title').textContent = `${at}: ${name} ${model}`;
  $('job').replaceChildren(...(ticket ? ['job ', html('b', { textContent: ticket })] : ['spare: no job']));
  const screen = $('drawing').querySelector('.screen');
  const now = JSON.stringify([phone.title, phone.picture, phone.lines, phone.entries, phone.marked]);
  if (screen.dataset.shown !== now) {
    screen.dataset.shown = now;
    $('drawing').classList.toggle('dark', phone.title === '' && phone.lines.length === 0 && phone.entries.length === 0 && /dark/.test(phone.picture));
    screen.replaceChildren(
      phone.title ? html('div', { className: 'name', textContent: phone.title }) : html('div', { className: 'picture', textContent: phone.picture }),
      ...phone.lines.map((line) => html('div', { textContent: line })),
      ...phone.entries.map((entry, place) => {
        if (!phone.touch) return html('div', { className: place === phone.marked ? 'entry marked' : 'entry', textContent: entry.label });
        const button = html('button', { type: 'button', textContent: entry.label });
        button.addEventListener('click', () => post(`touch/${entry.id}`));
        return button;
      }),
    );
  }
  for (const one of $('drawing').querySelectorAll('[data-key]')) one.classList.toggle('down', isDown(one.dataset.key));
  const wire = $('drawing').querySelector('.cable');
  wire?.classList.toggle('out', phone.cable === 'nothing');
  if (wire) wire.querySelector('text').textContent = { computer: 'to the computer', charger: 'to a charger', nothing: 'cable out' }[phone.cable] ?? phone.cable;
  const things = [
    ['cable', 'Cable to the computer', phone.cable === 'computer', true],
    ['charger', 'Charger', phone.cable === 'charger', true],
    ['battery', phone.battery ? 'Take the battery out' : 'Put the battery in', !phone.battery, batteryOut],
    ['card', phone.card ? 'Take the card out' : 'Put the card in', false, true],
    ['needle', 'Open it, needle on the pad', false, phone.opens],
  ].filter(([, , , is]) => is);
  const state = JSON.stringify(things);
  if ($('things').dataset.shown !== state) {
    $('things').dataset.shown = state;
    $('things').replaceChildren(...things.map(([act, words, on]) => {
      const button = html('button', { type: 'button', textContent: words, className: on ? 'on' : '' });
      button.addEventListener('click', async () => { await post(act); files(); });
      return button;
    }));
  }
  $('card-in').textContent = phone.card ? 'in the phone' : 'in a reader';
}

async function files() {
  const { storage, card } = await (await fetch(`/phones/${at}/files`)).json();
  const size = (bytes) => bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} KB` : `${(bytes / 1e6).toFixed(1)} MB`;
  const line = (file, ...more) => html('li', {}, html('span', { textContent: file.name }), html('small', { textContent: `${size(file.bytes)} · ${file.sha256.slice(0, 8)}` }), ...more);
  const none = () => html('li', {}, html('span', { textContent: 'nothing' }));
  $('storage').replaceChildren(...(storage.length === 0 ? [none()] : storage.map((file) => {
    if (!phones[at].root) return line(file);
    const patch = html('button', { type: 'button', textContent: 'Patch' });
    patch.title = 'Have the root manager on the phone patch it';
    patch.addEventListener('click', async () => { await post(`patch?file=${encodeURIComponent(file.name)}`); files(); });
    return line(file, patch);
  })));
  $('card').replaceChildren(...(card.length === 0 ? [none()] : card.map((file) => line(file))));
}

function choose() {
  const name = decodeURIComponent(location.hash.slice(1)).toUpperCase();
  at = name in bench.phones ? name : at ?? Object.keys(bench.phones)[0];
  look();
}

// ---- Keys of the keyboard.

const held = new Set();
const typing = (target) => target.matches('input:not([type=checkbox]), select, textarea');
document.addEventListener('keydown', (event) => {
  if (event.repeat || event.ctrlKey || event.altKey || event.metaKey || typing(event.target)) return;
  const letter = event.key.toLowerCase();
  if (letter === 'c') return post('cable');
  const id = letters[letter];
  if (!id || !bench.phones[at].sketch.parts.some((part) => part.id === id)) return;
  if ($('latch').checked) return press(id, !isDown(id));
  held.add(id);
  press(id, true);
});
document.addEventListener('keyup', (event) => {
  const id = letters[event.key.toLowerCase()];
  if (held.delete(id)) press(id, false);
});
// Who looks away has let go.
window.addEventListener('blur', () => {
  for (const id of held) press(id, false);
  held.clear();
});

async function begin() {
  bench = await (await fetch('/page/bench')).json();
  $('drift').textContent = bench.drift;
  $('modes').replaceChildren(...bench.modes.map(({ id, label }) => html('option', { value: id, textContent: label })));
  $('package').replaceChildren(...bench.packages.map((name) => html('option', { value: name, textContent: name })));
  $('bring').addEventListener('click', () => post(`into/${$('modes').value}`));
  $('renew').addEventListener('click', async () => { await post('renew'); files(); });
  $('copy').addEventListener('click', async () => {
    await post(`copy-to-card?from=${encodeURIComponent($('package').value)}&to=${encodeURIComponent($('as').value || $('package').value)}`);
    files();
  });
  window.addEventListener('hashchange', choose);
  choose();
  setInterval(look, 700);
}
begin();
