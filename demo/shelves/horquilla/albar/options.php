<?php

option_page('look_albar/general', get_text('general', 'look_albar'));
option_page('look_albar/colours', get_text('colours', 'look_albar'));
