// What the host must know of this layer.
export default {
  title: 'Ground',
  version: '1.0.0',
  hosts: '>=5',
  commons: [],
  sheets: ['css/ground.css'],
  scripts: ['js/ground.js'],
  picture: 'img/picture.png',
};
