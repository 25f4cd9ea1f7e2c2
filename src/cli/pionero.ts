#!/usr/bin/env node
import { Bundle } from './bundle.ts';

void new Bundle(__dirname).program.main();
