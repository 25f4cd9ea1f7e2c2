<?php

return [
    'component' => 'look:mochilina',
    'title' => 'Mochilina',
    'serial' => 41,
    'hosts' => '>=5.0',
    'parents' => ['mochila'],
];
