"""The launcher: sets a machine up and runs the application. Standard library only.

It runs before anything is installed, so nothing here may import a package of
`requirements/`.
"""
