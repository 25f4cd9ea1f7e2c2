// What the host must know of this layer.
export default {
  title: 'Mochilina',
  version: '1.0.0',
  hosts: '>=5',
  extends: 'mochila',
  sheets: ['css/mochilina.css'],
};
