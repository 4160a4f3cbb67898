package reader

import (
	"syscall"
	"time"

	"golang.org/x/sys/unix"
)

// confine asks the system to keep this process within its limits: memory, no files of its own,
// no more rights, less claim to the processor than the program, and no life without it.
func confine() {
	unix.Prctl(unix.PR_SET_PDEATHSIG, uintptr(syscall.SIGKILL), 0, 0, 0)
	unix.Prctl(unix.PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0)
	unix.Prctl(unix.PR_SET_DUMPABLE, 0, 0, 0, 0)
	set := func(what int, most uint64) {
		unix.Setrlimit(what, &unix.Rlimit{Cur: most, Max: most})
	}
	set(unix.RLIMIT_DATA, Memory)
	set(unix.RLIMIT_CORE, 0)
	set(unix.RLIMIT_FSIZE, 0)
	set(unix.RLIMIT_CPU, uint64(service*hard/time.Second))
	unix.Setpriority(unix.PRIO_PROCESS, 0, 5)
}

// spent returns how long this process has worked.
func spent() time.Duration {
	var u unix.Rusage
	if unix.Getrusage(unix.RUSAGE_SELF, &u) != nil {
		return 0
	}
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}
