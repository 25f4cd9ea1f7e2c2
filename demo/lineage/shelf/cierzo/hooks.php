<?php

/** Registers what this theme adds to its parent. */
function cierzo_setup(): void {
}

cierzo_setup();
