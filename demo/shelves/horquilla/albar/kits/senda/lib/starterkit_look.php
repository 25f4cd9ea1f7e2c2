<?php
function starterkit_look_note() {
  return get_text('note', 'look_starterkit');
}
