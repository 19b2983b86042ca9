"""Draws a graph file by its own places with programs that nobody here wrote: Debian's igraph on cairo reads GraphML,
networkx reads GEXF. GraphML says how large nodes are, GEXF only where. Arguments: the format, the file, the picture
(PNG). Prints which place lies in its corner, and what was read."""

import io
import json
import sys

import igraph
import networkx

margin = 200

form, source, target = sys.argv[1:]
if form == "graphml":
    graph = igraph.Graph.Read_GraphML(source)
    # igraph takes the attributes width and height for what they are, and draws about a centre
    places = [(v["x"] + v["width"] / 2, v["y"] + v["height"] / 2) for v in graph.vs]
    look = {"vertex_shape": "rectangle"}
else:
    # networkx knows the namespace of version 1.2; what is read here is the same in both
    with open(source, encoding="utf-8") as file:
        text = file.read().replace("http://gexf.net/1.3", "http://www.gexf.net/1.2draft")
    read = networkx.read_gexf(io.BytesIO(text.encode()), version="1.2draft")
    graph = igraph.Graph.from_networkx(read)
    places = [(viz["position"]["x"], viz["position"]["y"]) for viz in graph.vs["viz"]]
    look = {"vertex_size": 16}

left, top = (min(place[i] for place in places) for i in (0, 1))
right, bottom = (max(place[i] for place in places) for i in (0, 1))
igraph.plot(
    graph,
    target=target,
    layout=places,
    bbox=(right - left + 2 * margin, bottom - top + 2 * margin),
    margin=margin,
    vertex_color="#ff0000",
    vertex_frame_width=0,
    vertex_label=None,
    edge_color="#c0c0c0",
    edge_arrow_size=0.4,
    **look,
)
print(json.dumps({"left": left - margin, "top": top - margin, "nodes": graph.vcount(), "edges": graph.ecount()}))
