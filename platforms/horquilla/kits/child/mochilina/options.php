<?php

option_page('look_mochilina/general', get_text('general', 'look_mochilina'));
option_page('look_mochilina/colours', get_text('colours', 'look_mochilina'));
