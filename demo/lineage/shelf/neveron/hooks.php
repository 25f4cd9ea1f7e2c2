<?php

/** Registers what this theme adds to its parent. */
function neveron_setup(): void {
}

neveron_setup();
