// Puts the scripts and fonts that pages load beside the application, so that nothing is fetched from elsewhere.
import { cpSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';

const lib = 'src/Junctra.Web/wwwroot/lib';
const fonts = (face) => `node_modules/@fontsource-variable/atkinson-hyperlegible-${face}/files/atkinson-hyperlegible-${face}-latin-wght-normal.woff2`;

mkdirSync(lib, { recursive: true });
// It asks the window for every name that it has. Some of them are about to go from browsers, and asking for them is reported on every page.
const going = ['fence', 'Fence', 'FencedFrameConfig', 'HTMLFencedFrameElement'].map((name) => `delete globalThis.${name};`).join('');
writeFileSync(`${lib}/alpine.js`, `${going}${readFileSync('node_modules/@alpinejs/csp/dist/cdn.min.js', 'utf8')}`);
cpSync('node_modules/tus-js-client/dist/tus.min.js', `${lib}/tus.js`);
cpSync(fonts('next'), `${lib}/next.woff2`);
cpSync(fonts('mono'), `${lib}/mono.woff2`);
