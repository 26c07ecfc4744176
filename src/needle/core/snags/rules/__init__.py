"""The rules, one module each with a function `look`. A new module is found by itself."""
