<?php

const ALBAR_LOOK_SERIAL = 41;

/** What the pages of this look need to know. */
function albar_look_values(): array {
    return ['beds' => get_option('look_albar/general', 'beds')];
}

final class AlbarLook {
    public function values(): array {
        return albar_look_values();
    }
}
