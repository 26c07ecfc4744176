"""Ready-made sections: what they are written with, and all of them by purpose."""
