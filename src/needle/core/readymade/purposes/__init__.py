"""The ready-made sections, a module for each purpose. A new module is found by itself."""
