#!/usr/bin/env python3
"""The conditions service on loopback: how long an answer takes, and how many a second one connection and eight at once
get, against a bare answer of the same server (one that is refused before anything is worked out); and a hundred
questions in one request. Usage: serve.py PECORRA_CLI"""
import json
import pathlib
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.parse

program = sys.argv[1]


def request(path, token):
    return f"GET {path} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer {token}\r\n\r\n".encode()


def posted(path, token, body):
    return (f"POST {path} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer {token}\r\n"
            f"Content-Length: {len(body)}\r\n\r\n{body}").encode()


buffer = bytearray(1 << 20)
view = memoryview(buffer)


def answer(connection):
    """Reads one answer whole, by its length; returns its head."""
    got = end = 0
    while end <= 0:
        got += connection.recv_into(view[got:])
        end = buffer.find(b"\r\n\r\n", 0, got)
    at = buffer.find(b"Content-Length: ", 0, end) + 16
    whole = end + 4 + int(buffer[at:buffer.find(b"\r", at)])
    while got < whole:
        got += connection.recv_into(view[got:])
    return bytes(view[:end])


def measure(port, requests):
    times = []
    with socket.create_connection(("127.0.0.1", port)) as connection:
        connection.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        for asked in requests:
            begun = time.perf_counter()
            connection.sendall(asked)
            head = answer(connection)
            times.append(time.perf_counter() - begun)
    return statistics.median(times), len(times) / sum(times), head.split(b"\r\n")[0].decode()


def measure_together(port, requests, count=8):
    """Answers a second over several connections, each with one question under way."""
    connections = [socket.create_connection(("127.0.0.1", port)) for _ in range(count)]
    for connection in connections:
        connection.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    begun = time.perf_counter()
    for i, asked in enumerate(requests):
        if i >= count:
            answer(connections[i % count])
        connections[i % count].sendall(asked)
    for connection in connections:
        answer(connection)
    rate = len(requests) / (time.perf_counter() - begun)
    for connection in connections:
        connection.close()
    return rate


with tempfile.TemporaryDirectory() as folder:
    shop = str(pathlib.Path(folder) / "demo.pecorra")
    subprocess.run([program, "demo", shop], check=True)
    service = subprocess.Popen([program, "serve", "--shop", shop, "--port", "0"], stdout=subprocess.PIPE, text=True)
    said = json.loads(service.stdout.readline())
    port, token = urllib.parse.urlsplit(said["url"]).port, said["token"]
    cut = {"library": "Iron and steels", "number": 219, "material": "42CrMo4 +QT", "machine": "Fettler 6",
           "operation": "side_rough"}
    ask = [request("/resolve?" + urllib.parse.urlencode({**cut, "ap": 1 + i / 1000, "ae": 3}), token)
           for i in range(3000)]
    others = [request("/resolve?" + urllib.parse.urlencode({**cut, "ap": 1 + i / 1000, "ae": 2.5}), token)
              for i in range(6000)]
    bare = measure(port, [request("/nothing", token)] * 3000)
    first = measure(port, ask)
    again = measure(port, ask)
    bare_together = measure_together(port, [request("/nothing", token)] * 6000)
    together = measure_together(port, others)
    at_once = 100
    lists = [[{"ap": 5 + (at_once * k + i) / 10000, "ae": 3} for i in range(at_once)] for k in range(100)]
    _, many, head = measure(port, [posted("/resolve/many?" + urllib.parse.urlencode(cut), token, json.dumps(questions))
                                   for questions in lists])
    for name, (median, rate, head) in (("bare", bare), ("asked first", first), ("asked again", again)):
        print(f"{name:12} {head[9:12]}  median {median * 1e6:6.0f} µs  {rate:8.0f} a second  "
              f"ratio {rate / bare[1]:.2f} of the bare rate")
    print(f"eight connections: bare {bare_together:8.0f} a second, asked first {together:8.0f} a second, "
          f"ratio {together / bare_together:.2f}; {together / bare[1]:.2f} of the bare rate of one")
    print(f"{'asked first, 100 at once':24} {head[9:12]}  {many * at_once:8.0f} a second  "
          f"ratio {many * at_once / bare[1]:.2f} of the bare rate")
    service.terminate()
    service.wait()
