"""The rules of the job and its computation: pure functions over frozen values, no interface, no clock."""
