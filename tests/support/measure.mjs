// Loaded into the program before it runs: writes at its end how much memory and processor time it took.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

process.on('exit', () => {
  const { userCPUTime, systemCPUTime, maxRSS } = process.resourceUsage();
  // Where that can be had, not its maxRSS: that still counts the process that started this one (proc_pid_status(5)).
  const status = existsSync('/proc/self/status') ? readFileSync('/proc/self/status', 'utf8') : '';
  const kibibytes = Number(/^VmHWM:\s*(\d+)/m.exec(status)?.[1] ?? maxRSS);
  writeFileSync(process.env.MEASURE_TO, JSON.stringify({ mebibytes: kibibytes / 1024, seconds: (userCPUTime + systemCPUTime) / 1e6 }));
});
