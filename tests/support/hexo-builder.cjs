// Builds blogs, one after the other, in a process that has loaded the builder already: to load it takes longer than to build. Started
// with the path of a socket and the folder of the builder it serves; with `ask` and the path it asks for a build in the current folder,
// whose output and exit status become its own.
const { createConnection, createServer } = require('node:net');
const { format } = require('node:util');

const [mode, socket, ...rest] = process.argv.slice(2);
if (mode === 'ask') ask();
else serve();

function ask() {
  const server = createConnection(socket);
  let answer = '';
  server.setEncoding('utf8').on('data', (data) => (answer += data));
  server.on('end', () => {
    const { output, status } = JSON.parse(answer);
    process.stderr.write(output);
    process.exitCode = status;
  });
  server.write(`${JSON.stringify({ folder: process.cwd(), args: rest })}\n`);
}

function serve() {
  const Hexo = require(require.resolve('hexo', { paths: [rest[0]] }));
  let last = Promise.resolve();
  createServer((client) => {
    let asked = '';
    client.setEncoding('utf8').on('data', (data) => {
      asked += data;
      if (!asked.endsWith('\n')) return;
      const { folder, args } = JSON.parse(asked);
      last = last.then(async () => client.end(JSON.stringify(await build(Hexo, folder, args))));
    });
  }).listen(socket, () => process.stdout.write('ready\n'));
}

async function build(Hexo, folder, args) {
  let output = '';
  const add = (text) => {
    output += text;
    return true;
  };
  // What a build prints is its answer, and nobody else prints meanwhile.
  Object.assign(process.stdout, { write: add });
  Object.assign(process.stderr, { write: add });
  for (const name of ['log', 'info', 'warn', 'error']) console[name] = (...words) => add(`${format(...words)}\n`);
  const config = args.includes('--config') ? args[args.indexOf('--config') + 1] : undefined;
  const hexo = new Hexo(folder, { config });
  try {
    await hexo.init();
    await hexo.call('generate', { _: [] });
    await hexo.exit();
    return { output, status: 0 };
  } catch (error) {
    return { output: `${output}${error?.stack ?? error}\n`, status: 2 };
  }
}
