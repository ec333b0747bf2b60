"""How the program is served: processes, the proxy in front, limits on bodies, answers in bad times."""
