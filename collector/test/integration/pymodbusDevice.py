"""A Modbus TCP device of another make: pymodbus (Debian's python3-pymodbus), values encoded by its own payload builder."""
import sys

from pymodbus.constants import Endian
from pymodbus.datastore import ModbusServerContext, ModbusSequentialDataBlock, ModbusSlaveContext, ModbusSparseDataBlock
from pymodbus.payload import BinaryPayloadBuilder
from pymodbus.server import StartTcpServer

# Word order and byte order of each stretch of 100 registers: ABCD, CDAB, BADC, DCBA.
ORDERS = [(Endian.Big, Endian.Big), (Endian.Big, Endian.Little), (Endian.Little, Endian.Big), (Endian.Little, Endian.Little)]

registers = {}
for stretch, (byte, word) in enumerate(ORDERS):
    builder = BinaryPayloadBuilder(byteorder=byte, wordorder=word)
    builder.add_16bit_int(-1234)
    builder.add_16bit_uint(54321)
    builder.add_32bit_int(-123456789)
    builder.add_32bit_uint(3123456789)
    builder.add_64bit_int(-1234567890123456789)
    builder.add_64bit_uint(12345678901234567890)
    builder.add_32bit_float(22.34)
    builder.add_64bit_float(-123.45)
    for at, register in enumerate(builder.to_registers()):
        # A sparse block counts from one: the protocol's address 0 is its 1.
        registers[100 * stretch + at + 1] = register
text = BinaryPayloadBuilder(byteorder=Endian.Big, wordorder=Endian.Big)
text.add_string("Kilnbank  ")
for at, register in enumerate(text.to_registers()):
    registers[400 + at + 1] = register

unit = ModbusSlaveContext(
    hr=ModbusSparseDataBlock(registers),
    ir=ModbusSequentialDataBlock(1, [7] * 10),
    co=ModbusSequentialDataBlock(1, [True, False, True]),
    di=ModbusSequentialDataBlock(1, [False, True]),
)
print("ready", flush=True)
StartTcpServer(context=ModbusServerContext(slaves={1: unit}, single=False), address=("127.0.0.1", int(sys.argv[1])))
