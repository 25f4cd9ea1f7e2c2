<?php

return [
    'component' => 'look:mochila',
    'title' => 'Mochila',
    'serial' => 41,
    'hosts' => '>=5.0',
    'layouts' => ['page' => ['main']],
];
