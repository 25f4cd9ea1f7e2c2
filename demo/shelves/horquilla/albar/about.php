<?php

return [
    'component' => 'look:albar',
    'title' => 'Albar',
    'serial' => 41,
    'hosts' => '>=5.0',
    'layouts' => ['page' => ['main'], 'column' => ['main', 'side']],
];
