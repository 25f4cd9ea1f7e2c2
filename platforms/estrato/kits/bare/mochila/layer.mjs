// What the host must know of this layer.
export default {
  title: 'Mochila',
  version: '1.0.0',
  hosts: '>=5',
  sheets: ['css/mochila.css'],
};
