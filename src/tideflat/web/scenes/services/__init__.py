"""What changes a scene: each act is one transaction and one step that can be undone. Services take plain values and rows, never a request;
what is only read stands in queries, stage and stations.
"""
