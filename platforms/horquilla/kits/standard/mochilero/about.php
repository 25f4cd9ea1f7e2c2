<?php

return [
    'component' => 'look:mochilero',
    'title' => 'Mochilero',
    'serial' => 41,
    'hosts' => '>=5.0',
    'layouts' => ['page' => ['main'], 'column' => ['main', 'side']],
];
