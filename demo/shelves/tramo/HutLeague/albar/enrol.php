<?php

\Tramo\Enrol::theme('site/HutLeague/albar', __DIR__);
