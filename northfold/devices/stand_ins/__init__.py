"""
Stand-ins for devices that are not there: they read a made-up kitchen, and send as real ones do.

instruments  a scale, a probe, a room sensor as they behave: noise, settling, drift; without a clock of their own
sender       what they send, over HTTP, as any script would
pages        a small page to drive each by hand
"""
