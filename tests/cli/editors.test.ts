import { chmodSync, existsSync, readFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { expect, it } from 'vitest';
import { need, runTool } from '../support/needs.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const PAGE = readFileSync(join(import.meta.dirname, '../../docs/editors.md'), 'utf8');

/** What somebody does who edits a theme: types a mistake, asks what can stand there, jumps, renames, saves. */
const STEPS = `
local told = {}
local function eventually(what, test)
  if not vim.wait(20000, test, 20) then error('never: ' .. what) end
end
local function mistakes() return vim.tbl_map(function(each) return each.code end, vim.diagnostic.get(0)) end
local function place(words)
  local line = vim.fn.search(words)
  vim.fn.cursor(line, vim.fn.col('.') + #words)
end
vim.cmd('edit demo/shelf/albar/pages/front.html')
eventually('attached', function() return #vim.lsp.buf_get_clients(0) > 0 end)
local line = vim.fn.search('{{> footer}}')
local text = vim.fn.getline(line)
vim.fn.setline(line, (text:gsub('footer', 'fotter')))
eventually('a finding', function() return #mistakes() > 0 end)
told.found = mistakes()
place('{{> fot')
local answers = vim.lsp.buf_request_sync(0, 'textDocument/completion', vim.lsp.util.make_position_params(), 10000)
for _, each in pairs(answers) do told.completed = vim.tbl_map(function(item) return item.label end, each.result) end
vim.fn.setline(line, text)
eventually('no finding', function() return #mistakes() == 0 end)
place('{{> hea')
vim.lsp.buf.definition()
eventually('a jump', function() return vim.fn.expand('%:t') ~= 'front.html' end)
told.jumped = vim.fn.expand('%:t')
vim.cmd('edit demo/shelf/albar/pages/front.html')
place('{{> hut-c')
vim.lsp.buf.rename('hut-tiles')
eventually('a rename', function() return vim.fn.search('{{> hut-tiles') > 0 end)
vim.cmd('wall')
vim.fn.writefile({ vim.fn.json_encode(told) }, 'told.json')
vim.cmd('qall!')
`;

it('Neovim with the lines of the page finds, completes, jumps, renames and saves', () => {
  need('neovim');
  const place = new Workplace().withShelf();
  const [, lines = ''] = /```lua\n([^]*?)```/.exec(PAGE) ?? [];
  writeFiles(place.folder, {
    'init.lua': lines,
    'steps.lua': STEPS,
    'bin/pionero': `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n`,
  });
  chmodSync(place.path('bin/pionero'), 0o755);
  const env = { ...place.env, PATH: [place.path('bin'), process.env['PATH'] ?? ''].join(delimiter), XDG_DATA_HOME: place.path('.data') };
  runTool('nvim', ['--headless', '-u', 'init.lua', '-i', 'NONE', '-c', 'luafile steps.lua'], { cwd: place.folder, env });
  const told = JSON.parse(readFileSync(place.path('told.json'), 'utf8')) as Record<string, unknown>;
  expect(told).toEqual({
    found: ['template/partial'],
    completed: expect.arrayContaining(['footer', 'hut-facts']) as unknown,
    jumped: 'head.html',
  });
  expect(readFileSync(place.path('demo/shelf/albar/pages/front.html'), 'utf8')).toContain('{{> hut-tiles}}');
  expect(['hut-cards', 'hut-tiles'].map((name) => existsSync(place.path(`demo/shelf/albar/partials/${name}.html`)))).toEqual([false, true]);
}, 60_000);
