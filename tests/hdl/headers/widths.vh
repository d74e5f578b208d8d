`define TEN 10
