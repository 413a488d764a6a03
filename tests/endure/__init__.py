"""What the program must bear: long days, bad files, kills, mad instruments. Quick forms run with the suite, long forms with
``./run endure``, which prints figures and fails on any fault.
"""
