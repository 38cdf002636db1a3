"""HTTP/1.1 for one process: an event loop gathers requests and sends answers; threads run the application.

A request gets a thread when it is complete, so whoever sends slowly, or nothing, holds a connection and no thread.
Uploads and large downloads have threads of their own and are passed on in pieces; however many of them crawl, the API
still answers. Only people who are signed in get one of those threads or may send a body without a length.
"""
