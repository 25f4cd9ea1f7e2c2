// Loaded into the program before it runs: writes at its end how much memory and processor time it took.
import { readFileSync, writeFileSync } from 'node:fs';

process.on('exit', () => {
  const { userCPUTime, systemCPUTime } = process.resourceUsage();
  // Not its maxRSS: that still counts the process that started this one (proc_pid_status(5)).
  const kibibytes = Number(/^VmHWM:\s*(\d+)/m.exec(readFileSync('/proc/self/status', 'utf8'))?.[1]);
  writeFileSync(process.env.MEASURE_TO, JSON.stringify({ mebibytes: kibibytes / 1024, seconds: (userCPUTime + systemCPUTime) / 1e6 }));
});
