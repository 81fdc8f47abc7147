"""Set-up and starting: what the machine must have, the private database, the processes."""
