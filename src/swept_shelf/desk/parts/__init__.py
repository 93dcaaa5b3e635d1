"""Small parts that several stations use."""
