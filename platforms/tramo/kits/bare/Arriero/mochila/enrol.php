<?php

\Tramo\Enrol::theme('site/Arriero/mochila', __DIR__);
