"""Every change of a scene as a typed value: a module a noun, one registry.

Here belongs what changes a scene, whoever asks for it: the web, the command line, a remedy, a proposal. What stays true of any table is in
`table`; what judges is in `findings`; words for people are the caller's.
"""
