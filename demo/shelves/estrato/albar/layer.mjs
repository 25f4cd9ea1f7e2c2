// What the host must know of this layer.
export default {
  title: 'Albar',
  version: '1.0.0',
  hosts: '>=5',
  extends: 'ground',
  commons: ['hut-kit'],
  sheets: ['css/albar.css'],
  scripts: ['js/albar.js'],
  picture: 'img/picture.png',
};
