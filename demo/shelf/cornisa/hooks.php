<?php

function setup_menus(): void {
    host_menus('cornisa', ['main' => 'Main']);
}

function albar_head(): void {
}
