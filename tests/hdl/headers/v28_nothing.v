//= error 0 There is no module and no entity
// only a remark
