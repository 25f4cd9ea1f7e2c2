<?php

/** Registers what this theme adds to its parent. */
function mochilina_setup(): void {
}

mochilina_setup();
