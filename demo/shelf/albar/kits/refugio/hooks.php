<?php
// Delete this line: the kit is read by nobody but you.

/** What Your Theme adds to a page. */
function your_theme_note() {
  return get_text('note', 'your-theme');
}
