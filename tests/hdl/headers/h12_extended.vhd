--= top \the top\
--= port bus-1 in std_logic
--= port Bus-1 in std_logic
--= port normal out std_logic
entity \the top\ is port (\bus-1\ : in std_logic; \Bus-1\ : in std_logic; normal : out std_logic); end entity;
