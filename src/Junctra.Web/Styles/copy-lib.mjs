// Puts the scripts and fonts that pages load beside the application, so that nothing is fetched from elsewhere.
import { cpSync, mkdirSync } from 'node:fs';

const lib = 'src/Junctra.Web/wwwroot/lib';
const fonts = (face) => `node_modules/@fontsource-variable/atkinson-hyperlegible-${face}/files/atkinson-hyperlegible-${face}-latin-wght-normal.woff2`;

mkdirSync(lib, { recursive: true });
cpSync('node_modules/@alpinejs/csp/dist/cdn.min.js', `${lib}/alpine.js`);
cpSync('node_modules/tus-js-client/dist/tus.min.js', `${lib}/tus.js`);
cpSync(fonts('next'), `${lib}/next.woff2`);
cpSync(fonts('mono'), `${lib}/mono.woff2`);
