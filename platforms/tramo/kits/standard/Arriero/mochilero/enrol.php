<?php

\Tramo\Enrol::theme('site/Arriero/mochilero', __DIR__);
