DROP TABLE journal, sign_offs, clocks, calls, readings, sheets, steps, rebuilds, anatomies, presses, tools, instruments, shops, sign_in_failures, sessions, people;
