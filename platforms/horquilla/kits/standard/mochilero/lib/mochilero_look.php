<?php

const MOCHILERO_LOOK_SERIAL = 41;

/** What the pages of this look need to know. */
function mochilero_look_values(): array {
    return ['beds' => get_option('look_mochilero/general', 'beds')];
}

final class MochileroLook {
    public function values(): array {
        return mochilero_look_values();
    }
}
