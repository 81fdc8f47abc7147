"""What builders and pipelines do by command: begin a package, check it, try it here, sign and release it."""
