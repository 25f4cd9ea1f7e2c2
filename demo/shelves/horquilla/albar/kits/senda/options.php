<?php
// The settings of %theme%.
return ['starterkit_accent' => '#2f5d73'];
