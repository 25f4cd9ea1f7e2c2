<?php

/** Registers what the theme offers. */
function mochilero_setup(): void {
    host_menus('mochilero', ['main' => 'Main menu']);
}

mochilero_setup();
