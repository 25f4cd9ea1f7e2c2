<?php

option_page('look_mochila/general', get_text('general', 'look_mochila'));
option_page('look_mochila/colours', get_text('colours', 'look_mochila'));
