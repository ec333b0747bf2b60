"""Between core values and what people see: drawings as SVG, geometry for the browser, figures and sentences in the reader's unit.

A bridge module computes nothing that a judgement rests on, knows no rows and no request.
"""
