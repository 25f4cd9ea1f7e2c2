<?php

const MOCHILA_LOOK_SERIAL = 41;

/** What the pages of this look need to know. */
function mochila_look_values(): array {
    return ['beds' => get_option('look_mochila/general', 'beds')];
}

final class MochilaLook {
    public function values(): array {
        return mochila_look_values();
    }
}
