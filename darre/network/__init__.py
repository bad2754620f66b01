"""How Darre is reached: from this machine alone, or from others in the same network.

What is kept stands in a file beside the database and not in it, so that a backup put back elsewhere opens nothing.
"""
