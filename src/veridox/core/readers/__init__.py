"""Bytes to pages and mails to files. To be run in limited reader processes only: whoever wants a
word or a type of it imports the module that has it, and loads no reader.
"""
