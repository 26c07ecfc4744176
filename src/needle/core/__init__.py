"""The computation. Imports no Qt and opens no socket."""
