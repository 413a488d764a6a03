"""What stands beside every sheet: route, verdict, knock-ons, instruments, command box."""
