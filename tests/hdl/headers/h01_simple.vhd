--= top blinker
--= port clk in std_logic
--= port led out std_logic_vector 7:0
library ieee;
use ieee.std_logic_1164.all;
entity blinker is
  port (
    clk : in std_logic;
    led : out std_logic_vector(7 downto 0)
  );
end entity blinker;
architecture rtl of blinker is
begin
  led <= (others => '0');
end architecture rtl;
