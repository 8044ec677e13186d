"""The rules of the job and its computation, over frozen values: no web, no database, no clock. A wing a subject; each says at its door what it answers."""
