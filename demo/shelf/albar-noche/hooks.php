<?php

/** Tells the browser that the page is dark. */
function albar_noche_head(): void {
    echo '<meta name="color-scheme" content="dark">';
}

host_on('head', 'albar_noche_head');
