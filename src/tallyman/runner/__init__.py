"""The runner: keeps a host connected and executes runs. Speaks only the documented protocol."""
