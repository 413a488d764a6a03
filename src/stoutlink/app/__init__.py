"""The window: the only place that knows Qt.

Garbage is looked for less often than usual: what is kept here is frozen values, and looking costs a tenth of the start.
"""

import gc

gc.set_threshold(50_000, 20, 20)
