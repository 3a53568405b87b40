from mellowspine.core.report.blocks import Paragraph, Run
from mellowspine.core.report.report import Report
def handbook(): return Report('Stewards’ Handbook',(Paragraph('b00001',runs=(Run('x'),)),))
