<?php

option_page('look_mochilero/general', get_text('general', 'look_mochilero'));
option_page('look_mochilero/colours', get_text('colours', 'look_mochilero'));
