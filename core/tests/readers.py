"""Reads graph files with programs that nobody here wrote (Debian's networkx and igraph, Python's own csv) and says what
they hold: one JSON object for each line of standard input, which names a reader, a format and a file."""

import csv
import io
import json
import sys

import igraph
import networkx


def plain(value):
    if isinstance(value, float) and value != value:
        return None
    return value if isinstance(value, (str, int, float, bool, list, dict, type(None))) else str(value)


def of_networkx(graph):
    return {
        "directed": graph.is_directed(),
        "graph": {str(k): plain(v) for k, v in graph.graph.items()},
        "nodes": [[str(n), {str(k): plain(v) for k, v in data.items()}] for n, data in graph.nodes(data=True)],
        "edges": [[str(a), str(b), {str(k): plain(v) for k, v in data.items()}] for a, b, data in graph.edges(data=True)],
    }


def of_igraph(graph):
    ids = graph.vs["id"] if "id" in graph.vs.attributes() else list(range(graph.vcount()))
    name = lambda at: str(int(ids[at])) if isinstance(ids[at], float) else str(ids[at])
    return {
        "directed": graph.is_directed(),
        "graph": {},
        "nodes": [[name(v.index), {k: plain(v[k]) for k in graph.vs.attributes()}] for v in graph.vs],
        "edges": [[name(e.source), name(e.target), {k: plain(e[k]) for k in graph.es.attributes()}] for e in graph.es],
    }


def of_table(path):
    with open(path, newline="", encoding="utf-8") as file:
        return {"rows": list(csv.DictReader(file))}


readers = {
    ("networkx", "graphml"): lambda path: of_networkx(networkx.read_graphml(path, force_multigraph=True)),
    ("networkx", "gexf"): lambda path: of_networkx(networkx.read_gexf(path, version="1.2draft")),
    ("networkx", "gml"): lambda path: of_networkx(networkx.read_gml(path, label=None)),
    ("networkx", "nodelink"): lambda path: of_networkx(networkx.node_link_graph(json.load(open(path)))),
    ("igraph", "graphml"): lambda path: of_igraph(igraph.Graph.Read_GraphML(path)),
    ("igraph", "gml"): lambda path: of_igraph(igraph.Graph.Read_GML(path)),
    ("csv", "edges"): of_table,
    ("csv", "nodes"): of_table,
    ("csv", "matrix"): of_table,
}

for line in sys.stdin:
    wanted = json.loads(line)
    try:
        found = readers[(wanted["reader"], wanted["format"])](wanted["path"])
    except Exception as error:  # what it cannot read is an answer too
        found = {"error": f"{type(error).__name__}: {error}"}
    print(json.dumps(found))
