"""Outside services and devices as small simulated stand-ins, each with the manner of a real one."""
