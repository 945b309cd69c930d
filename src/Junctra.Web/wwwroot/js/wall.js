// A screen at the wall: what it shows is fetched anew again and again. Where the shop's computer does not answer, it keeps what it has
// and says since when, so that nobody works by a picture of an hour ago.
const main = document.querySelector('main');
const since = document.getElementById('wall-since');
const every = Number(document.body.dataset.anew) * 1000;
let seen = new Date();

async function anew() {
  try {
    const answer = await fetch(location.pathname, { cache: 'no-store' });
    if (answer.ok) {
      const page = new DOMParser().parseFromString(await answer.text(), 'text/html');
      main.replaceChildren(...page.querySelector('main').childNodes);
      seen = new Date();
    } else if (answer.status === 404) {
      // The lead switched it off.
      main.replaceChildren();
    }
  } catch { /* tried again */ }
  const isOld = Date.now() - seen > 2.5 * every;
  since.hidden = !isOld;
  since.textContent = isOld ? `Not heard from since ${seen.toTimeString().slice(0, 5)}` : '';
  setTimeout(anew, every);
}

setTimeout(anew, every);
