<?php

/** Registers what the theme offers. */
function albar_setup(): void {
    host_menus('albar', ['main' => 'Main menu']);
}

albar_setup();
