<?php

const MOCHILINA_LOOK_SERIAL = 41;

/** What the pages of this look need to know. */
function mochilina_look_values(): array {
    return ['beds' => get_option('look_mochilina/general', 'beds')];
}

final class MochilinaLook {
    public function values(): array {
        return mochilina_look_values();
    }
}
