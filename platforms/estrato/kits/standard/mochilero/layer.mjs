// What the host must know of this layer.
export default {
  title: 'Mochilero',
  version: '1.0.0',
  hosts: '>=5',
  commons: [],
  sheets: ['css/mochilero.css'],
  scripts: ['js/mochilero.js'],
  picture: 'img/picture.png',
};
