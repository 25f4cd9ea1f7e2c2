<?php

\Tramo\Enrol::theme('site/Arriero/mochilina', __DIR__);
