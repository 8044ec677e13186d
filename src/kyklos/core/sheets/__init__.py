"""Tables that other programs wrote, read into values.

A temperature logger's file and somebody's spreadsheet of brews: columns recognised, rows read, and what could not be
read said row by row.
"""
