"""What a choice of axles forces elsewhere: rules as data with one small function each. ``swap_findings`` is the one
call.
"""
