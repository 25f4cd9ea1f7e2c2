// Loaded before everything else where tests run under Wine, which differs from Windows here: it knows no delay of keep-alives, and no
// connection that asks for one is made.
require('node:net').Socket.prototype.setKeepAlive = function setKeepAlive() {
  return this;
};
