// Draws the raster pictures of the demo themes and the kits from vector drawings. Run it after changing a drawing:
// node scripts/make-pictures.mjs
import { readFileSync } from 'node:fs';
import sharp from 'sharp';

const picture = (name) => readFileSync(`demo/shelf/albar/pictures/${name}`, 'utf8');
const inner = (svg) => svg.replace(/<\/?svg[^>]*>/g, '');

/** A cover of 1200 × 900 pixels: sky, ridge, and a hut with a light. */
function cover({ sky, dusk, title, ink }) {
  return `<svg xmlns="http://www.w3.org/2000/svg" width="1200" height="900" viewBox="0 0 1200 900">
    <defs><linearGradient id="g" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${sky}"/><stop offset="1" stop-color="${dusk}"/></linearGradient></defs>
    <rect width="1200" height="900" fill="url(#g)"/>
    <circle cx="900" cy="220" r="70" fill="#f2a03d"/>
    <g transform="translate(0 560) scale(.75 1.15)">${inner(picture('ridge.svg'))}</g>
    <text x="90" y="200" font-family="DejaVu Serif" font-size="104" fill="${ink}">${title}</text>
  </svg>`;
}

const png = (svg, file) => sharp(Buffer.from(svg)).png({ palette: true, colours: 64 }).toFile(file);

await png(cover({ sky: '#10293a', dusk: '#2f5d73', title: 'Albar', ink: '#f4f8fa' }), 'demo/shelf/albar/cover.png');
await png(cover({ sky: '#05070b', dusk: '#182430', title: 'Albar Noche', ink: '#f2a03d' }), 'demo/shelf/albar-noche/cover.png');
for (const kit of ['bare/mochila', 'child/mochilina']) {
  await png(cover({ sky: '#5c6b73', dusk: '#b9c4c9', title: '', ink: '#fff' }), `platforms/vereda/kits/${kit}/cover.png`);
}

const ridge = cover({ sky: '#f4c98f', dusk: '#e98a5a', title: '', ink: '#fff' });
await sharp(Buffer.from(ridge))
  .resize(1200, 675, { fit: 'cover', position: 'bottom' })
  // A picture that carries the theme's name inside: renaming must leave it alone.
  .withExif({ IFD0: { ImageDescription: 'albar ridge at first light', Copyright: 'Albar Hut League' } })
  .jpeg({ quality: 70 })
  .toFile('demo/shelf/albar/pictures/hero.jpg');
const noise = Buffer.alloc(64 * 64 * 3);
for (let i = 0; i < noise.length; i += 3) [246, 244, 239].forEach((tone, j) => (noise[i + j] = tone + ((i * 7919) % 5) - 2));
await sharp(noise, { raw: { width: 64, height: 64, channels: 3 } })
  .png({ palette: true, colours: 16 })
  .toFile('demo/shelf/albar/pictures/paper.png');
